import { goOn, quiz } from "./quiz.js";
import { keep, kept } from "./tab.js";

// One question on its page. A tap on an answer goes on, unless there is more to say; keys that
// walk through the answers do not. Within the answers, number keys choose.
const alone = () => {
  const questions = quiz()?.querySelectorAll("[data-question]");
  return questions?.length === 1 ? /** @type {HTMLElement} */ (questions[0]) : null;
};

const stay = "taps stay"; // in this tab, where somebody has turned off that a tap goes on

/** A tap goes on only where nobody has turned that off. */
export function taps() {
  if (!kept(stay) || !quiz()) return;
  delete quiz().dataset.taps;
  document.getElementById("taps")?.remove();
}

document.addEventListener("click", (event) => {
  if (!(/** @type {Element} */ (event.target).closest("[data-untap]"))) return;
  keep(stay, "yes");
  taps();
});

document.addEventListener("click", (event) => {
  const one = alone(),
    choice = /** @type {HTMLInputElement} */ (event.target);
  if (
    one?.contains(choice) &&
    quiz().dataset.taps !== undefined &&
    event.detail > 0 &&
    choice.matches("input[type=radio]") &&
    !choice.dataset.words
  )
    goOn(300);
});

document.addEventListener("keydown", (event) => {
  const one = alone(),
    at = /** @type {HTMLElement} */ (event.target);
  if (!one?.contains(at) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (!at.matches("input[type=radio],input[type=checkbox]")) return; // a letter alone is nobody’s key elsewhere
  const choices = [...one.querySelectorAll("input[type=radio],input[type=checkbox]")];
  const points = one.dataset.kind === "rating" || one.dataset.kind === "stars";
  const choice = points ? choices.find((c) => c.value === event.key) : choices[Number(event.key) - 1];
  if (/^[0-9]$/.test(event.key) && choice) {
    choice.checked = choice.type === "radio" || !choice.checked;
    choice.focus();
    choice.dispatchEvent(new Event("change", { bubbles: true }));
  }
});
