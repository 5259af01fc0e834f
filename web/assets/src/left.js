// What is typed as the page goes is kept on the device until the server is known to have
// it, and taken up when the sheet is opened again.
import { fieldAt } from "./fields.js";
import { gone } from "./notice.js";
import { valueOf } from "./values.js";

/** Returns takeUp. Choose puts a text that both have changed to the choice. */
export function handleLeaving({ quiz, sending, flush, choose }) {
  const shelf = `omphalos-left-${quiz}`;

  addEventListener("pagehide", () => {
    sending.pause(true);
    flush();
    const left = sending.leave().map(({ path, value }) => ({
      path,
      value,
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
    for (const { path, value, text, before } of left) {
      const field = fieldAt(path);
      if (!field) gone(text);
      else if (field.defaultValue === before) sending.change(path, value);
      else if (field.defaultValue !== text && JSON.stringify(valueOf(field)) !== JSON.stringify(value)) {
        sending.keepFor(path, value);
        choose(field, path, text, field.defaultValue);
      }
    }
  }

  return takeUp;
}
