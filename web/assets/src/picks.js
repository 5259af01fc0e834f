// Several questions are picked by their numbers, and moved, copied or deleted at once.
import { state } from "./folding.js";

export function handlePicks({ sending, flush }) {
  const bar = document.getElementById("picks");
  let picked = new Set(),
    last = null;

  const questions = () => [...document.querySelectorAll("#questions > .question")];
  const paths = () =>
    questions()
      .map((q) => q.dataset.item)
      .filter((p) => picked.has(p));
  const keyOf = (path) => path.slice(path.lastIndexOf("/") + 1);

  function pick(path, through) {
    const all = questions().map((q) => q.dataset.item);
    if (through && last && all.includes(last)) {
      const [a, b] = [all.indexOf(last), all.indexOf(path)].sort((x, y) => x - y);
      all.slice(a, b + 1).forEach((p) => picked.add(p));
    } else if (!picked.delete(path)) picked.add(path);
    last = path;
    show();
  }

  function show() {
    if (!picked.size && bar.hidden) return; // as the server sends it nothing is picked
    const all = questions();
    picked = new Set(all.map((q) => q.dataset.item).filter((p) => picked.has(p)));
    for (const q of all) state(q.querySelector("[data-pick]"), "aria-pressed", picked.has(q.dataset.item));
    bar.hidden = !picked.size;
    if (bar.hidden) return;
    bar.querySelector("p").textContent = picked.size === 1 ? "1 question picked" : `${picked.size} questions picked`;
  }

  function drop() {
    picked.clear();
    show();
  }

  // move takes the block one question up or down.
  function move(way) {
    flush();
    const all = questions().map((q) => q.dataset.item),
      block = paths();
    const beside =
      way === "up" ? all[all.indexOf(block[0]) - 1] : all.slice(all.indexOf(block.at(-1))).find((p) => !picked.has(p));
    if (beside) sending.act({ do: "move", paths: block, [way === "up" ? "before" : "after"]: keyOf(beside) });
  }

  document.addEventListener("click", (event) => {
    const number = event.target.closest?.("[data-pick]");
    if (number) pick(number.dataset.pick, event.shiftKey);
  });

  // each does something to all that are picked.
  function each(what) {
    flush();
    sending.act({ do: what, paths: paths() });
    if (what !== "copy") drop();
  }

  return { each, drop, has: (path) => picked.size > 1 && picked.has(path), paths, move, show };
}
