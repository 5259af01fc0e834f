// How many are expected to give an answer is set by dragging its bar, or with the
// arrow keys. What is not set shares the rest.
import { from, stepped } from "./stepping.js";

export function handleExpectations(change) {
  const pixels = 120; // for all of a hundred percent

  document.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest?.(".slide");
    if (!bar || event.button !== 0) return;
    event.preventDefault();
    bar.focus();
    bar.setPointerCapture(event.pointerId);
    const upright = bar.classList.contains("upright");
    const along = (e) => (upright ? -e.clientY : e.clientX);
    const from = Number(bar.getAttribute("aria-valuenow")),
      start = along(event);
    let now = from;
    const move = (e) => {
      now = Math.round(Math.min(100, Math.max(0, from + (100 * (along(e) - start)) / pixels)));
      draw(bar, now);
    };
    const end = () => {
      bar.removeEventListener("pointermove", move);
      if (now !== from) change(bar.dataset.expect, now);
    };
    bar.addEventListener("pointermove", move);
    bar.addEventListener("pointerup", end, { once: true });
    bar.addEventListener("pointercancel", end, { once: true });
  });

  document.addEventListener("keydown", (event) => {
    const bar = event.target.closest?.(".slide");
    if (!bar) return;
    const step = { ArrowRight: 5, ArrowUp: 5, ArrowLeft: -5, ArrowDown: -5, PageUp: 20, PageDown: -20 }[event.key];
    const path = bar.dataset.expect;
    const now = from(path, Number(bar.getAttribute("aria-valuenow")));
    if (step) {
      const by = event.shiftKey ? Math.sign(step) : step;
      change(path, stepped(path, Math.min(100, Math.max(0, now + by))));
    } else if (event.key === "Home" || event.key === "End") change(path, stepped(path, event.key === "Home" ? 0 : 100));
    else if ((event.key === "Delete" || event.key === "Backspace") && bar.classList.contains("set"))
      change(path, undefined);
    else return;
    event.preventDefault();
  });

  function draw(bar, percent) {
    const rect = bar.querySelector("rect");
    if (bar.classList.contains("upright")) {
      rect.setAttribute("height", (percent * 24) / 100);
      rect.setAttribute("y", 24 - (percent * 24) / 100);
    } else {
      rect.setAttribute("width", (percent * 40) / 100);
      bar.querySelector("span").textContent = `${percent} %`;
    }
    bar.setAttribute("aria-valuenow", percent);
  }
}
