// The ledger as a sheet of cells: blocks are picked, copied, pasted, filled down and
// emptied, each as one change.
import { valueOf, wrong } from "./values.js";

export function openLedger({ sending, notice, flush }) {
  let anchor = null,
    end = null; // corners of the block that is picked

  // rows are the rows of cells, from the top, without hidden columns.
  const rows = () =>
    [...document.querySelectorAll(".row")]
      .map((row) => [...row.querySelectorAll(".cell input")].filter((c) => c.offsetParent))
      .filter((row) => row.length);

  function placeOf(cell, all = rows()) {
    for (let r = 0; r < all.length; r++) {
      const c = all[r].indexOf(cell);
      if (c >= 0) return [r, c];
    }
    return null;
  }

  // block returns the cells between the corners, row by row.
  function block() {
    const all = rows(),
      a = anchor && placeOf(anchor, all),
      b = end && placeOf(end, all);
    if (!a || !b) return [];
    return all
      .slice(Math.min(a[0], b[0]), Math.max(a[0], b[0]) + 1)
      .map((row) => row.slice(Math.min(a[1], b[1]), Math.max(a[1], b[1]) + 1));
  }

  function show() {
    document.querySelectorAll(".cell.picked").forEach((c) => c.classList.remove("picked"));
    const cells = block().flat();
    if (cells.length > 1) cells.forEach((c) => c.closest(".cell").classList.add("picked"));
  }

  function drop() {
    anchor = end = null;
    show();
  }

  const picked = () => block().flat().length > 1;

  // put gives cells what texts say, in one change; false tells that one is no number.
  function put(pairs) {
    const ops = [];
    for (const { cell, text, where } of pairs) {
      const value = valueOf(cell, text);
      if (value === wrong) {
        notice(`${where ?? "Here"}: “${text}” is no number. Nothing was changed.`);
        return false;
      }
      if (value !== undefined) ops.push({ op: "add", path: cell.dataset.path, value });
      else if (cell.defaultValue !== "") ops.push({ op: "remove", path: cell.dataset.path });
      sending.forget(cell.dataset.path);
    }
    if (ops.length) sending.patch(ops);
    return true;
  }

  const plain = (cell) => cell.value.replace("−", "-").replace(/^[+×]/, "");

  document.addEventListener("paste", (event) => {
    const cell = event.target.closest?.(".cell input");
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (!cell || !/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    const all = rows(),
      [top, left] = placeOf(cell, all);
    const pairs = [];
    let lost = 0;
    text
      .replace(/\r?\n$/, "")
      .split(/\r?\n/)
      .forEach((line, r) =>
        line.split("\t").forEach((word, c) => {
          const into = all[top + r]?.[left + c];
          if (into) pairs.push({ cell: into, text: word, where: `Row ${r + 1}, column ${c + 1} of what you pasted` });
          else if (word.trim()) lost++;
        }),
      );
    if (put(pairs) && lost) notice(`${lost} of the pasted numbers lie beyond the ledger and were left out.`);
  });

  document.addEventListener("copy", (event) => {
    if (!event.target.closest?.(".cell input") || !picked()) return;
    event.preventDefault();
    event.clipboardData.setData(
      "text/plain",
      block()
        .map((row) => row.map(plain).join("\t"))
        .join("\n"),
    );
  });

  document.addEventListener("pointerdown", (event) => {
    const cell = event.target.closest?.(".cell input");
    if (cell && event.shiftKey && document.activeElement?.closest(".cell")) {
      event.preventDefault();
      anchor ??= document.activeElement;
      end = cell;
      show();
    } else drop();
  });

  // A cell that is reached by mouse is taken whole, so that typing replaces what is in it;
  // a second click sets the caret.
  let reached = null;
  document.addEventListener(
    "pointerdown",
    (event) => {
      const cell = event.target.closest?.(".cell input");
      reached = cell && cell !== document.activeElement && !event.shiftKey ? cell : null;
    },
    true,
  );
  document.addEventListener("click", (event) => {
    if (reached && event.target === reached && reached.selectionStart === reached.selectionEnd) reached.select();
    reached = null;
  });

  // key tells whether a key was meant for a block.
  function key(cell, event) {
    const arrows = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] };
    const way = arrows[event.key];
    if (event.shiftKey && way && !event.altKey) {
      const all = rows();
      anchor ??= cell;
      end ??= cell;
      const [r, c] = placeOf(end, all);
      end = all[r + way[0]]?.[c + way[1]] ?? end;
      show();
      return true;
    }
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "d") {
      flush();
      fillDown(cell);
      return true;
    }
    if (picked() && (event.key === "Delete" || event.key === "Backspace")) {
      put(
        block()
          .flat()
          .map((c) => ({ cell: c, text: "" })),
      );
      return true;
    }
    if (event.key === "Escape" && picked()) {
      drop();
      return true;
    }
    if (!["Shift", "Control", "Meta"].includes(event.key) && !(event.ctrlKey || event.metaKey)) drop();
    return false;
  }

  // fillDown repeats the first row of the block, or the cell above.
  function fillDown(cell) {
    const all = rows(),
      [r, c] = placeOf(cell, all);
    if (!picked()) {
      if (all[r - 1]?.[c]) put([{ cell, text: plain(all[r - 1][c]) }]);
      return;
    }
    const [first, ...below] = block();
    put(below.flatMap((row) => row.map((into, i) => ({ cell: into, text: plain(first[i]) }))));
  }

  return { key };
}
