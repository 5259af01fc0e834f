import { say } from "./say.js";

// A page of ours in another site's tells that what it does, and has it go where it leads.
const framers = document.body.dataset.frames?.split(" ");
const tell =
  framers && parent !== window
    ? (what) => framers.forEach((origin) => parent.postMessage({ omphalos: what }, origin))
    : null;
if (tell) {
  const height = () => tell({ height: Math.ceil(document.documentElement.getBoundingClientRect().height) });
  document.documentElement.classList.add("framed");
  new ResizeObserver(height).observe(document.documentElement);
  height();
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape") tell({ close: true });
  });
}

let going = 0;

/** Goes on where a page redirects after its seconds, unless one stays. */
export function leave() {
  clearTimeout(going);
  const onward = /** @type {HTMLElement | null} */ (document.querySelector("[data-leave]"));
  if (!onward) return;
  const to = onward.dataset.leave;
  going = setTimeout(() => (tell ? tell({ go: to }) : location.assign(to)), Number(onward.dataset.after) * 1000);
  onward.querySelector("[data-stay]").addEventListener("click", (event) => {
    event.preventDefault();
    clearTimeout(going);
    onward.querySelector(".note").textContent = say("You stay here.");
  });
}
