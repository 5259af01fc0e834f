const wait = 8000; // ms after which a form may be sent again, should nothing have come

let sent = new WeakMap(); // when, by form
addEventListener("pageshow", () => (sent = new WeakMap())); // whoever comes back may send again

/**
 * Tells whether a form is sent for the first time from this page: a double click sends none twice.
 *
 * @param {HTMLFormElement} form
 */
export function firstOf(form) {
  const again = Date.now() - sent.get(form) < wait;
  if (!again) sent.set(form, Date.now());
  return !again;
}
