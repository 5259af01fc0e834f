// Pictures are dropped, pasted or chosen, or taken from those that are there.
import { from, stepped } from "./stepping.js";

export function handlePictures({ sending, flush }) {
  const dialog = document.getElementById("pictures"),
    list = document.getElementById("picture-list"),
    wrong = document.getElementById("picture-wrong"),
    drop = document.getElementById("picture-drop");
  let path = null;

  async function open(at) {
    path = at;
    tell("");
    dialog.showModal();
    const answer = await fetch("/studio/pictures").catch(() => null);
    if (answer?.ok) list.innerHTML = await answer.text();
  }

  function tell(message) {
    wrong.textContent = message;
    wrong.hidden = !message;
  }

  function take(source, description) {
    dialog.close();
    flush();
    sending.patch([{ op: "add", path, value: { source, description } }]);
  }

  async function send(file) {
    if (!file) return;
    tell("");
    if (file.size > 12 * 1024 * 1024)
      return tell("This picture is too large: at most 12 MB fit. Save it smaller and take it again.");
    drop.setAttribute("aria-busy", "true");
    const answer = await fetch("/studio/pictures", {
      method: "POST",
      headers: { "Content-Type": "application/octet-stream" },
      body: file,
    }).catch(() => null);
    drop.removeAttribute("aria-busy");
    const said = await answer?.json().catch(() => null);
    if (answer?.ok) take(said.source, "");
    else tell(said?.message ?? "The picture could not be sent. It is still where it was: try again in a moment.");
  }

  document.addEventListener("click", (event) => {
    const at = event.target.closest?.("[data-picture]");
    if (at) return open(at.dataset.picture);
    const chosen = event.target.closest?.("[data-take]");
    if (chosen) take(chosen.dataset.take, chosen.dataset.description);
  });
  document.addEventListener("change", (event) => {
    if (event.target.id !== "picture-file") return;
    send(event.target.files[0]);
    event.target.value = "";
  });
  // The point that no crop cuts off is pressed, or moved by arrow keys, in steps of 5 %.
  const step = 5;
  const within = (percent) => Math.max(0, Math.min(100, Math.round(percent / step) * step));
  function focus(button, x, y) {
    const value = { x: within(x), y: within(y) };
    if (button.dataset.at === `${value.x} ${value.y}`) return;
    flush();
    sending.patch([{ op: "add", path: button.dataset.focus, value }]);
  }
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-focus]");
    if (!button || !event.detail) return;
    const box = button.getBoundingClientRect();
    focus(button, (100 * (event.clientX - box.left)) / box.width, (100 * (event.clientY - box.top)) / box.height);
  });
  document.addEventListener("keydown", (event) => {
    const button = event.target.closest?.("[data-focus]");
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    if (!button || !by || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const path = button.dataset.focus;
    const [x, y] = from(path, button.dataset.at).split(" ").map(Number);
    focus(button, x + by[0], y + by[1]);
    stepped(path, `${within(x + by[0])} ${within(y + by[1])}`);
  });

  // handed takes a picture that was pasted or dropped; the address of one says where it is, and
  // from there it can't be shown.
  function handed(data) {
    const [file] = data.files;
    if (file) return send(file);
    if (/^https?:/.test(data.getData("text/uri-list") || data.getData("text/plain")))
      tell(
        "This picture is on another site, from where it can’t be shown. Save it to your device, then choose the file here.",
      );
  }

  dialog.addEventListener("paste", (event) => handed(event.clipboardData));
  dialog.addEventListener("dragover", (event) => event.preventDefault());
  dialog.addEventListener("drop", (event) => {
    event.preventDefault();
    handed(event.dataTransfer);
  });
}
