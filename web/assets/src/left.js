// What is typed as the page goes is kept on the device until the server is known to have
// it, and taken up when the sheet is opened again; so is what was refused.
import { fieldAt } from "./fields.js";
import { gone } from "./notice.js";
import { valueOf } from "./values.js";

/** Where what is left of a quiz lies in the browser. */
export const shelfOf = (quiz) => `omphalos-left-${quiz}`;

/** Returns takeUp. Choose puts a text that both have changed to the choice. */
export function handleLeaving({ quiz, sending, flush, choose }) {
  const shelf = shelfOf(quiz);

  addEventListener("pagehide", () => {
    sending.pause(true);
    flush();
    const refused = sending.unfit().map((field) => ({ path: field.dataset.path, refused: true }));
    const left = [...sending.leave(), ...refused].map(({ path, value, refused }) => ({
      path,
      value,
      refused,
      text: fieldAt(path)?.value ?? "",
      before: fieldAt(path)?.defaultValue ?? "",
    }));
    try {
      if (left.length) localStorage.setItem(shelf, JSON.stringify(left));
    } catch {
      /* then the request that goes with the page is all there is */
    }
  });
  addEventListener("pageshow", (event) => {
    if (!event.persisted) return;
    localStorage.removeItem(shelf);
    sending.pause(false);
  });

  function takeUp() {
    let left = [];
    try {
      left = JSON.parse(localStorage.getItem(shelf) ?? "[]");
      localStorage.removeItem(shelf);
    } catch {
      /* nothing was left */
    }
    for (const { path, value, text, before, refused } of left) {
      const field = fieldAt(path);
      if (!field) gone(text);
      else if (refused) {
        field.value = text; // and it is said again why it is not kept
        field.dispatchEvent(new Event("change", { bubbles: true }));
      } else if (field.defaultValue === before) sending.change(path, value);
      else if (field.defaultValue !== text && JSON.stringify(valueOf(field)) !== JSON.stringify(value)) {
        sending.keepFor(path, value);
        choose(field, path, text, field.defaultValue);
      }
    }
  }

  return takeUp;
}
