// What is typed and chosen in fields becomes changes.
import { fields, fieldAt, same, grow, tell, clear } from "./fields.js";
import { gone } from "./notice.js";
import { valueOf, isLate, wrong } from "./values.js";

const pause = 400; // ms after the last key before a text is sent

/** Returns flush, which sends what is still being typed, before something else is done. */
export function handleTyping(sending) {
  const timers = new Map();

  document.addEventListener("input", (event) => {
    const field = event.target.closest(fields);
    if (!field || field.type === "checkbox" || field.tagName === "SELECT") return;
    grow(field);
    sending.note(field.dataset.path);
    if (isLate(field)) return; // sent when it is left
    clearTimeout(timers.get(field));
    timers.set(
      field,
      setTimeout(() => keep(field), pause),
    );
  });
  document.addEventListener("change", (event) => {
    const field = event.target.closest(fields);
    if (field) keep(field);
  });

  // A browser says nothing of a change to what was in a field when it last spoke of one,
  // though the field has been given something else since.
  document.addEventListener("focusout", (event) => {
    const field = event.target.closest?.(fields);
    if (field && sending.noted(field.dataset.path)) keep(field);
  });

  function keep(field) {
    clearTimeout(timers.get(field));
    timers.delete(field);
    if (!field.isConnected) return keepAgain(field);
    if (field.tagName === "SELECT" && field.value === "+")
      return sending.act({ do: "add", path: "/outcomes", link: field.dataset.path });
    const value = valueOf(field);
    if (value === wrong) {
      sending.wrong(field.dataset.path);
      tell(field, "This is not a number. Type one such as 4, −1 or 2.5, or leave the cell empty.");
      return;
    }
    if (same(field) && !sending.goes(field.dataset.path)) {
      clear(field);
      sending.forget(field.dataset.path);
      return;
    }
    sending.change(field.dataset.path, value, field.dataset.also?.trim().split(" "));
  }

  // keepAgain: a field that is not on the page any more has been made anew, or what it
  // belongs to has been deleted: then what was typed is offered again.
  function keepAgain(field) {
    const now = fieldAt(field.dataset.path);
    if (now) {
      now.value = field.value;
      return keep(now);
    }
    sending.forget(field.dataset.path);
    if (field.value !== field.defaultValue) gone(field.value);
  }

  // flush sends what is still being typed, before something else is done.
  function flush() {
    for (const field of [...timers.keys()]) keep(field);
    const active = document.activeElement?.closest?.(fields);
    if (active && isLate(active)) keep(active);
  }

  return flush;
}
