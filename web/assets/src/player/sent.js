import { firstOf } from "../once.js";
import { goAhead } from "./ahead.js";
import { say } from "./say.js";

// A double click sends a form once. Without a connection the answers wait on the page.
document.addEventListener("submit", (event) => {
  const sent = /** @type {HTMLFormElement} */ (event.target);
  if (!navigator.onLine) {
    event.preventDefault();
    return waitFor(sent, event.submitter);
  }
  if (!firstOf(sent)) return event.preventDefault();
  if (sent.elements.namedItem("ahead") && event.submitter?.getAttribute("value") === "on") {
    event.preventDefault();
    goAhead(sent);
  }
});

// waitFor says that there is no connection, and sends the form when it is back.
function waitFor(form, button) {
  if (form.querySelector(".offline")) return;
  const note = Object.assign(document.createElement("p"), {
    className: "wrong offline",
    textContent: say(
      "There is no connection just now. Your answers are still here, and go on their way when it is back.",
    ),
  });
  note.setAttribute("role", "alert");
  form.querySelector(".nav").before(note);
  addEventListener(
    "online",
    () => {
      note.remove();
      form.requestSubmit(button);
    },
    { once: true },
  );
}
