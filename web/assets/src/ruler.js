// Cuts on the ruler: dragged, or moved by the arrow keys.
import { from, stepped } from "./stepping.js";

const pause = 250; // ms after the last arrow key before a cut is sent

export function handleRuler(desk, send) {
  const timers = new Map();

  const place = (handle, at) => {
    const { left, per, low } = handle.closest(".ruler").dataset;
    const x = Number(left) + (at - Number(low)) * Number(per);
    handle.setAttribute("transform", `translate(${x.toFixed(2)} 0)`);
    handle.setAttribute("aria-valuenow", at);
    handle.querySelector(".at").textContent = String(at).replace("-", "−");
  };
  const shown = (handle) => Number(handle.getAttribute("aria-valuenow"));
  const round = (value, snap) => Number((Math.round(value / snap) * snap).toFixed(6));
  const keep = (handle, at = shown(handle)) => {
    if (at !== Number(handle.dataset.at)) send(handle.dataset.path, at);
  };

  desk.addEventListener("pointerdown", (event) => {
    const handle = event.target.closest(".handle");
    if (!handle || event.button !== 0) return;
    event.preventDefault();
    handle.focus();
    handle.setPointerCapture(event.pointerId);
    handle.classList.add("held");
    const ruler = handle.closest(".ruler");
    const { left, per, low, high, snap } = ruler.dataset;
    const drag = (e) => {
      const x = new DOMPoint(e.clientX, e.clientY).matrixTransform(ruler.getScreenCTM().inverse()).x;
      const at = round(Number(low) + (x - Number(left)) / Number(per), Number(snap));
      place(handle, Math.min(Math.max(at, Number(low)), Number(high) + Number(snap)));
    };
    const drop = () => {
      handle.removeEventListener("pointermove", drag);
      handle.classList.remove("held");
      keep(handle);
    };
    handle.addEventListener("pointermove", drag);
    handle.addEventListener("pointerup", drop, { once: true });
    handle.addEventListener("pointercancel", drop, { once: true });
  });

  desk.addEventListener("keydown", (event) => {
    const handle = event.target.closest(".handle");
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[event.key];
    if (!handle || !by || event.altKey) return;
    event.preventDefault();
    const snap = Number(handle.closest(".ruler").dataset.snap);
    const { path } = handle.dataset;
    const at = stepped(path, round(from(path, shown(handle)) + by * snap, snap));
    place(handle, at);
    clearTimeout(timers.get(path));
    timers.set(
      path,
      setTimeout(() => keep(handle, at), pause),
    );
  });
}
