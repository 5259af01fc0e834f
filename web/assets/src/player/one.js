import { goOn, quiz } from "./quiz.js";

// One question on its page. A tap on an answer goes on, unless there is more to say; keys that
// walk through the answers do not. The number keys choose, Enter goes on.
const questions = document.querySelectorAll("[data-question]");
if (quiz && questions.length === 1) {
  const one = questions[0];
  const moves = quiz.dataset.taps !== undefined && !["several", "grid"].includes(one.dataset.kind);
  one.addEventListener("click", (event) => {
    const choice = event.target;
    if (
      moves &&
      /** @type {MouseEvent} */ (event).detail > 0 &&
      choice.matches?.("input[type=radio]") &&
      !choice.dataset.words
    )
      setTimeout(goOn, 180);
  });
  document.addEventListener("keydown", (event) => {
    if (
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      event.target.matches("input:not([type=radio],[type=checkbox]),textarea,select,summary")
    )
      return;
    const choices = one.querySelectorAll("input[type=radio],input[type=checkbox]");
    const choice =
      one.dataset.kind === "rating" || one.dataset.kind === "stars"
        ? [...choices].find((c) => c.value === event.key)
        : choices[Number(event.key) - 1];
    if (/^[0-9]$/.test(event.key) && choice) {
      choice.checked = choice.type === "radio" || !choice.checked;
      choice.focus();
      choice.dispatchEvent(new Event("change", { bubbles: true }));
    } else if (event.key === "Enter" && !event.target.closest("button,a,form")) goOn();
  });
}
