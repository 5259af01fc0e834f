// Buttons, lists and boxes that change the structure of the document, or go somewhere in it.
import { element } from "./elements.js";
import { clear } from "./fields.js";
import { actOf, patchOf } from "./values.js";

const pause = 400; // ms until a kind that arrow keys have come to counts as chosen

/**
 * What is in data-act or data-patch is done: by a button when it is pressed, by a list, a box
 * or a field when something is chosen in it. Returns act, which does something at a path.
 */
export function handleActs({ sending, flush, goTo, move }) {
  document.addEventListener("click", (event) => {
    const jump = event.target.closest("[data-jump]");
    if (jump && goTo(jump.dataset.jump)) event.preventDefault();
    const button = event.target.closest("button:is([data-act],[data-path],[data-patch],[data-insert])");
    if (!button) return;
    // The second press of a double click takes nothing away that has come under the pointer.
    const { act, patch, path, insert } = button.dataset;
    if (event.detail === 2 && /remove/.test(act ?? patch)) return;
    flush();
    if (insert) putIn(button);
    else if (patch) sending.patch(patchOf(button));
    else if (path) sending.change(path, JSON.parse(button.value));
    else perform(button);
  });

  document.addEventListener("change", (event) => {
    const field = event.target;
    const { act: does, patch } = field.dataset;
    if (patch !== undefined) {
      flush();
      sending.patch(patchOf(field));
    } else if (does?.startsWith("turn?")) turnSoon(field, () => perform(field));
    else if (does !== undefined) {
      if (!does.startsWith("cells?")) flush();
      perform(field);
    }
  });

  // perform does what a control says; what it stands in is meant where no path is said.
  function perform(control) {
    if (control.hasAttribute("aria-invalid")) clear(control);
    const { do: what, path, ...rest } = actOf(control.dataset.act, control.value);
    control.closest("[popover]")?.hidePopover();
    act(what, path ?? control.closest("[data-item]")?.dataset.item ?? "", rest);
  }

  function act(what, path, rest) {
    switch (what) {
      case "undo":
      case "redo":
        return sending.walk(what);
      case "shortcuts":
        return document.getElementById("shortcuts").showModal();
      case "up":
      case "down":
        return move(path, what);
      default:
        return sending.act({ do: what, path, ...rest });
    }
  }

  // turnSoon waits until a kind stays chosen: arrow keys go past others.
  let turning = 0;
  function turnSoon(select, turn) {
    clearTimeout(turning);
    const chosen = () => {
      flush();
      if (select.isConnected) turn();
    };
    if (arrowed) turning = setTimeout(chosen, pause);
    else chosen();
  }

  return act;
}

let arrowed = false;
document.addEventListener(
  "keydown",
  (event) => {
    arrowed = event.key.startsWith("Arrow") || event.key.length === 1;
  },
  true,
);
document.addEventListener(
  "pointerdown",
  () => {
    arrowed = false;
  },
  true,
);
// What can be filled in stands once on the page, and is shown where it is asked for.
document.addEventListener(
  "toggle",
  (event) => {
    if (!event.target.matches?.("details.fills")) return;
    event.target.querySelector("div")?.remove();
    if (event.target.open)
      event.target.append(element("div", { innerHTML: document.getElementById("part-fills").innerHTML }));
  },
  true,
);

// putIn puts a name into the text beside it.
function putIn(button) {
  const text = button.closest("[data-fills],p").querySelector("textarea,input");
  text.setRangeText(button.dataset.insert, text.selectionStart, text.selectionEnd, "end");
  text.focus();
  text.dispatchEvent(new Event("input", { bubbles: true }));
}
