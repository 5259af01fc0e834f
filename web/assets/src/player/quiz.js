/** The form with the questions, where the page has one. */
export const quiz = () => /** @type {HTMLFormElement | null} */ (document.querySelector("form.quiz"));

/**
 * Goes on as the button does, after some milliseconds.
 *
 * @param {number} after
 */
export function goOn(after = 0) {
  const form = quiz();
  setTimeout(() => form.isConnected && form.requestSubmit(form.querySelector("[name=go][value=on]")), after);
}
