// The respondent's pages work without this: it only saves taps and keys.
const form = document.querySelector("form[data-question]");

// A double click sends a form once.
document.addEventListener("submit", (event) => {
  const sent = event.target;
  if (sent.dataset.sent) return event.preventDefault();
  sent.dataset.sent = "yes";
  setTimeout(() => delete sent.dataset.sent, 8000);
});
addEventListener("pageshow", () => document.querySelectorAll("form").forEach((f) => delete f.dataset.sent));

// The number keys choose an answer.
if (form) {
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.target.matches("input[type=text],textarea")) return;
    const choice = form.querySelectorAll("input[type=radio]")[Number(event.key) - 1];
    if (event.key >= "1" && event.key <= "9" && choice) {
      choice.checked = true;
      choice.focus();
    }
  });
}

// What went wrong is read out and seen first.
document.querySelector(".wrong")?.focus();
