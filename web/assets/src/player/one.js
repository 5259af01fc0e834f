import { goOn, quiz } from "./quiz.js";

// One question on its page. A tap on an answer goes on, unless there is more to say; keys that
// walk through the answers do not. Within the answers, number keys choose and Enter goes on.
const alone = () => {
  const questions = quiz()?.querySelectorAll("[data-question]");
  return questions?.length === 1 ? /** @type {HTMLElement} */ (questions[0]) : null;
};

document.addEventListener("click", (event) => {
  const one = alone(),
    choice = /** @type {HTMLInputElement} */ (event.target);
  if (
    one?.contains(choice) &&
    quiz().dataset.taps !== undefined &&
    !["several", "grid"].includes(one.dataset.kind) &&
    event.detail > 0 &&
    choice.matches("input[type=radio]") &&
    !choice.dataset.words
  )
    goOn(180);
});

document.addEventListener("keydown", (event) => {
  const one = alone(),
    at = /** @type {HTMLElement} */ (event.target);
  if (!one || event.ctrlKey || event.metaKey || event.altKey) return;
  if (at.matches("input:not([type=radio],[type=checkbox]),textarea,select,summary")) return;
  const choices = [...one.querySelectorAll("input[type=radio],input[type=checkbox]")];
  const points = one.dataset.kind === "rating" || one.dataset.kind === "stars";
  const choice = points ? choices.find((c) => c.value === event.key) : choices[Number(event.key) - 1];
  if (/^[0-9]$/.test(event.key) && choice) {
    choice.checked = choice.type === "radio" || !choice.checked;
    choice.focus();
    choice.dispatchEvent(new Event("change", { bubbles: true }));
  } else if (event.key === "Enter" && !at.closest("button,a,form")) goOn();
});
