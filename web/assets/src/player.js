// The respondent's pages work without this: it only saves taps and keys.
// A double click sends a form once.
document.addEventListener("submit", (event) => {
  const sent = event.target;
  if (sent.dataset.sent) return event.preventDefault();
  sent.dataset.sent = "yes";
  setTimeout(() => delete sent.dataset.sent, 8000);
});
addEventListener("pageshow", () => document.querySelectorAll("form").forEach((f) => delete f.dataset.sent));

// The number keys choose an answer of the question that stands alone on its page.
const questions = document.querySelectorAll("[data-question]");
if (questions.length === 1) {
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches("input:not([type=radio],[type=checkbox]),textarea,select")) return;
    const choice = questions[0].querySelectorAll("input[type=radio],input[type=checkbox]")[Number(event.key) - 1];
    if (event.key >= "1" && event.key <= "9" && choice) {
      choice.checked = choice.type === "radio" || !choice.checked;
      choice.focus();
    }
  });
}

// What went wrong is read out and seen first.
document.querySelector(".wrong")?.focus();
