// The keyboard on the sheet.
import { reveal } from "./folding.js";

const texts = "textarea,input:not([type=checkbox],[type=radio])";
const labels = /\/(label|name)$/;

export function handleKeys({ act, move, flush, sending, ledger }) {
  // A label, or a name, is one line: Enter goes on, and puts no line break where it goes to.
  document.addEventListener("keypress", (event) => {
    const line = labels.test(event.target.dataset?.path ?? "") || event.target.closest?.(".fresh");
    if (event.key === "Enter" && !event.shiftKey && line) event.preventDefault();
  });
  document.addEventListener("keydown", (event) => {
    const at = event.target;
    const typing = at.matches?.("input,textarea,select");
    const item = at.closest?.("[data-item]")?.dataset.item;

    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      if (at.matches?.(texts) && at.value !== at.defaultValue) return; // the browser's own undo, within the text
      event.preventDefault();
      flush();
      return sending.walk(event.shiftKey ? "redo" : "undo");
    }
    if (event.key === "?" && !typing) return act("shortcuts");
    if (event.altKey && item && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      event.preventDefault();
      flush();
      return move(item, event.key === "ArrowUp" ? "up" : "down");
    }
    if (at.closest?.(".cell") && (ledger.key(at, event) || inLedger(at, event))) return event.preventDefault();
    if (at.dataset?.tag !== undefined && event.key === "Enter" && at.value.trim()) {
      event.preventDefault();
      flush(); // the name of a keyword may just have been typed
      sending.act({ do: "tag", path: at.dataset.tag, label: at.value });
      at.value = "";
      return;
    }
    if (!typing || !at.dataset.path) return;

    const label = /^\/questions\/[^/]+\/answers\/[^/]+\/label$/.test(at.dataset.path);
    if (event.key === "Enter" && !event.shiftKey && label) {
      event.preventDefault();
      flush();
      const empty = [...at.closest("[data-list]").querySelectorAll("[data-item] textarea")].find(
        (f) => f !== at && /\/answers\/[^/]+\/label$/.test(f.dataset.path ?? "") && !f.value.trim(),
      );
      if (empty) return empty.focus();
      sending.act({
        do: "add",
        path: item.slice(0, item.lastIndexOf("/")),
        after: item.slice(item.lastIndexOf("/") + 1),
      });
    } else if (event.key === "Backspace" && label && at.value === "") {
      event.preventDefault();
      const near = at.closest("[data-item]");
      const next = (near.previousElementSibling ?? near.nextElementSibling)?.querySelector("textarea");
      sending.forget(at.dataset.path);
      act("remove", item);
      next?.focus();
    } else if (event.key === "Enter" && !event.shiftKey && /^\/questions\/[^/]+\/label$/.test(at.dataset.path)) {
      event.preventDefault();
      at.closest("[data-item]").querySelector(".answer textarea")?.focus();
    } else if (event.key === "Enter" && at.matches("input:not([type=checkbox])")) {
      at.dispatchEvent(new Event("change", { bubbles: true }));
    }
  });
}

// inLedger moves between the cells of a column and of a row, and tells whether it did.
function inLedger(cell, event) {
  const down = event.key === "ArrowDown" || (event.key === "Enter" && !event.shiftKey);
  const up = event.key === "ArrowUp" || (event.key === "Enter" && event.shiftKey);
  if (event.altKey || event.ctrlKey || event.metaKey) return false;
  let next;
  if (down || up) {
    const column = [...document.querySelectorAll(`.cell input[data-column="${cell.dataset.column}"]`)];
    next = column[column.indexOf(cell) + (down ? 1 : -1)];
  } else if (event.key === "ArrowLeft" && cell.selectionStart === 0 && cell.selectionEnd === 0) {
    next = cell.closest(".cell").previousElementSibling?.querySelector("input");
  } else if (event.key === "ArrowRight" && cell.selectionStart === cell.value.length) {
    next = cell.closest(".cell").nextElementSibling?.querySelector("input");
  } else return false;
  cell.dispatchEvent(new Event("change", { bubbles: true }));
  reveal(next);
  (next ?? cell).focus();
  (next ?? cell).select(); // at an end, what is typed next takes the place of what is there
  return true;
}
