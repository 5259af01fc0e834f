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
  return show;
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

function show() {
  let off = false;
  for (const part of document.getElementById("questions").children) {
    if (part.dataset.section !== undefined) {
      off = folded.has(part.dataset.section);
      part.querySelector("[data-fold]").setAttribute("aria-expanded", String(!off));
    } else part.hidden = off;
  }
  for (const button of document.querySelectorAll("[data-more]")) {
    const open = opened.has(button.dataset.more);
    button.setAttribute("aria-expanded", String(open));
    document.querySelector(`[data-list="${CSS.escape(button.dataset.more)}"]`).classList.toggle("folded", !open);
  }
}
