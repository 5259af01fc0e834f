import { firstOf } from "../once.js";
import { show } from "./page.js";
import { say } from "./say.js";
import { forget } from "./typed.js";

// A form is sent by the script, and what comes back is shown. What does not arrive is sent again
// until it does: whatever is sent twice counts once.
const longest = 30_000; // ms that an answer is waited for

document.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!/^\/[pq]\//.test(location.pathname) || form.getAttribute("method") !== "post") {
    if (!firstOf(form)) event.preventDefault(); // a double click sends a form once
    return;
  }
  event.preventDefault();
  if (form.ariaBusy !== "true") send(form, /** @type {HTMLButtonElement | null} */ (event.submitter));
});

/**
 * Sends a form until it has arrived, and shows what is answered.
 *
 * @param {HTMLFormElement} form
 * @param {HTMLButtonElement | null} button
 */
async function send(form, button) {
  form.ariaBusy = "true";
  for (let wait = 1000; ; wait = Math.min(2 * wait, 30_000)) {
    const answer = await sent(form, button);
    if (answer) {
      forget(form);
      if (answer.elsewhere) return location.assign(answer.elsewhere);
      return show(answer.html, answer.address);
    }
    await again(form, wait);
  }
}

/**
 * What the server answers, or nothing where it can't be reached.
 *
 * @param {HTMLFormElement} form
 * @param {HTMLButtonElement | null} button
 */
async function sent(form, button) {
  const body = new URLSearchParams(/** @type {any} */ (new FormData(form)));
  if (button?.name) body.set(button.name, button.value);
  if (parent !== window) body.set("framed", "yes");
  try {
    const to = form.getAttribute("action") || location.href;
    const options = { method: "POST", headers: { "Page-Sent": "yes" }, body, signal: AbortSignal.timeout?.(longest) };
    const answer = await fetch(to, options);
    const told = (name) => answer.headers.get(name);
    if (told("Page-Sent"))
      return { html: await answer.text(), address: told("Page-Address"), elsewhere: told("Page-Elsewhere") };
    // Something on the way answers in the server's place, or keeps back what it says.
    if (answer.status < 500) bySelf(form, button);
  } catch {
    /* sent again */
  }
  return null;
}

/** Has the browser send a form, as it does without scripts. */
function bySelf(form, button) {
  if (button?.name)
    form.append(
      Object.assign(document.createElement("input"), { type: "hidden", name: button.name, value: button.value }),
    );
  HTMLFormElement.prototype.submit.call(form);
}

/** Says that it is not sent yet, and waits: for some time, for the line, or until somebody presses. */
async function again(form, wait) {
  let note = form.querySelector(".unsent");
  if (!note) {
    note = Object.assign(document.createElement("div"), { className: "wrong unsent", role: "alert" });
    const now = Object.assign(document.createElement("button"), {
      type: "button",
      className: "quiet",
      textContent: say("Try now"),
    });
    note.append(say("Not sent yet. Trying again."), " ", now);
    (form.querySelector(".nav") ?? form.lastElementChild).before(note);
  }
  await new Promise((done) => {
    setTimeout(done, wait);
    addEventListener("online", done, { once: true });
    note.querySelector("button").onclick = done;
  });
}
