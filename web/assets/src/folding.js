// What is folded: the questions of a section, and the end of a long list of answers.

const opened = new Set(); // long lists, by data-list
const folded = new Set(); // sections

/** Returns what shows the folds again when the page has changed. */
export function handleFolding() {
  document.addEventListener("click", (event) => {
    const section = event.target.closest?.("[data-fold]")?.dataset.fold;
    if (section !== undefined) turn(folded, section);
    const list = event.target.closest?.("[data-more]")?.dataset.more;
    if (list !== undefined) turn(opened, list);
  });
  show();
  return () => {
    if (opened.size || folded.size) show(); // as the server sends it nothing is, either way
  };
}

/** reveal opens what hides an element, so that it can have the focus. */
export function reveal(el) {
  const list = el?.closest(".answers.folded");
  if (!list) return;
  opened.add(list.dataset.list);
  show();
}

function turn(set, key) {
  if (!set.delete(key)) set.add(key);
  show();
}

// What stands so already is left alone: whoever watches the page would be told of it.
function show() {
  let off = false;
  for (const part of document.getElementById("questions").children) {
    if (part.dataset.section !== undefined) {
      off = folded.has(part.dataset.section);
      state(part.querySelector("[data-fold]"), "aria-expanded", !off);
    } else if (part.hidden !== off) part.hidden = off;
  }
  for (const button of document.querySelectorAll("[data-more]")) {
    const open = opened.has(button.dataset.more);
    state(button, "aria-expanded", open);
    document.querySelector(`[data-list="${CSS.escape(button.dataset.more)}"]`).classList.toggle("folded", !open);
  }
}

/** state writes a state of a control. */
export function state(control, name, on) {
  if (control.getAttribute(name) !== String(on)) control.setAttribute(name, String(on));
}
