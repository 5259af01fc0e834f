// Where respondents go: conditions are edited in place, and what an answer leads to is
// chosen from a list or by dragging its thread.
import { element } from "./elements.js";
import { clear } from "./fields.js";
import { actOf } from "./values.js";

const cells = "[data-act^='cells?']"; // of decision tables

/** cellOf returns the cell of a decision table in which an act was done. */
export const cellOf = ({ path, at }) => document.querySelector(`[data-act^="cells?path=${path}&at=${at}&"]`);

export function handlePath({ sending, flush }) {
  document.addEventListener("click", (event) => {
    const way = event.target.closest?.("[data-then]");
    if (way) open(way);
    const chosen = event.target.closest?.("[data-lead]");
    if (chosen) {
      dialog.close();
      lead(path, targets()[Number(chosen.dataset.lead)]);
    }
  });

  // ---- decision tables --------------------------------------------------------

  document.addEventListener("paste", (event) => {
    const cell = event.target.closest?.(cells);
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (!cell || !/[\t\n]/.test(text.trimEnd())) return;
    event.preventDefault();
    for (const wrong of cell.closest("table").querySelectorAll("[aria-invalid]")) clear(wrong);
    sending.act(actOf(cell.dataset.act, text));
  });
  document.addEventListener("keydown", (event) => {
    const cell = event.target.closest?.(cells);
    const by = { ArrowDown: 1, Enter: 1, ArrowUp: -1 }[event.key];
    if (!cell || !by || event.altKey || (event.key !== "Enter" && cell.value && cell.list)) return;
    const column = [
      ...cell.closest("tbody").querySelectorAll(`td:nth-child(${cell.closest("td").cellIndex + 1}) input`),
    ];
    const next = column[column.indexOf(cell) + by];
    if (!next) return;
    event.preventDefault();
    if (cell.value !== cell.defaultValue) cell.dispatchEvent(new Event("change", { bubbles: true }));
    next.focus();
  });

  // ---- the list -------------------------------------------------------------

  const dialog = document.getElementById("then"),
    find = document.getElementById("then-words"),
    list = document.getElementById("then-list");
  let path = null,
    from = 0,
    now = "";

  const targets = () => JSON.parse(document.getElementById("part-targets").dataset.targets);

  // lead makes a then lead to a target, or to the next question where there is none.
  function lead(to, target) {
    flush();
    const rule = !to.endsWith("/then");
    if (!target) return now && sending.patch([{ op: "remove", path: to }]);
    if (target.to === "+") return sending.act({ do: "add", path: "/outcomes", label: "", link: rule ? "" : to });
    if (!rule)
      return sending.patch([
        { op: "add", path: to, value: { go: target.go, ...(target.to ? { to: target.to } : {}) } },
      ]);
    sending.patch([
      { op: "add", path: `${to}/go`, value: target.go },
      { op: "add", path: `${to}/to`, value: target.to ?? "" },
    ]);
  }

  function open(way) {
    path = way.dataset.then;
    from = Number(way.dataset.from);
    now = way.dataset.now;
    find.value = "";
    show();
    dialog.showModal();
    find.focus();
  }

  function show() {
    list.replaceChildren();
    const words = find.value.toLowerCase().trim();
    const item = (text, lead, chosen) => {
      const button = element("button", {
        type: "button",
        textContent: text,
        className: chosen ? "chosen" : "",
      });
      button.dataset.lead = lead;
      list.append(button);
    };
    if (path.endsWith("/then") && "the next question".includes(words)) item("The next question", "next", !now);
    let group = "";
    targets().forEach((t, i) => {
      if (t.at <= from || !t.name.toLowerCase().includes(words) || (t.to === "+" && !path.endsWith("/then"))) return;
      if (t.group !== group) list.append(element("h3", { textContent: (group = t.group) }));
      item(t.name, i, `${t.go} ${t.to ?? ""}` === now);
    });
    if (!list.children.length)
      list.append(
        element("p", {
          className: "small",
          textContent: "Nothing that comes later holds these words.",
        }),
      );
  }

  find.addEventListener("input", show);
  dialog.addEventListener("keydown", (event) => {
    const buttons = [...list.querySelectorAll("button")];
    if (event.key === "Enter" && event.target === find) {
      event.preventDefault();
      meant = buttons[find.value.trim() ? 0 : buttons.findIndex((b) => b.className)];
    }
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    const next = buttons[buttons.findIndex((b) => b === document.activeElement) + by];
    (next ?? (by < 0 ? find : null))?.focus();
  });

  // Enter counts when it is let go: else it would press what gets the focus next.
  let meant = null;
  dialog.addEventListener("keyup", (event) => {
    if (event.key === "Enter") meant?.click();
    meant = null;
  });

  // ---- dragging a thread ------------------------------------------------------

  document.addEventListener("pointerdown", (event) => {
    const end = event.target.closest?.("[data-loose]");
    if (!end || event.button !== 0) return;
    event.preventDefault();
    end.setPointerCapture(event.pointerId);
    const all = targets(),
      here = end.dataset.loose.split("/")[2];
    const mine = all.find((t) => t.go === "question" && t.to === here)?.at ?? 0;
    const line = document.createElementNS("http://www.w3.org/2000/svg", "svg");
    line.setAttribute("class", "dragged");
    line.innerHTML = "<path/>";
    document.body.append(line);
    const start = end.getBoundingClientRect(),
      x = start.x + start.width / 2,
      y = start.y + start.height / 2;
    let over = null,
      target = null;
    // placeAt finds what lies under the pointer, and the target that it stands for.
    const placeAt = (e) => {
      const part = document
        .elementsFromPoint(e.clientX, e.clientY)
        .map((el) => el.closest(".question,.sectionhead,#part-decision,.step,#part-otherwise,.outcome"))
        .find(Boolean);
      const id = part?.id.replace(/^part-(q|sec|o)-/, "");
      const kind = part?.classList.contains("question")
        ? "question"
        : part?.classList.contains("sectionhead")
          ? "section"
          : part?.classList.contains("outcome")
            ? "outcome"
            : part
              ? "decide"
              : null;
      const found = all.find((t) => t.go === kind && (kind === "decide" || t.to === id) && t.at > mine);
      return found ? [part, found] : [null, null];
    };
    const drag = (e) => {
      line.firstElementChild.setAttribute(
        "d",
        `M${x} ${y}C${x - 60} ${y} ${e.clientX - 60} ${e.clientY} ${e.clientX} ${e.clientY}`,
      );
      over?.classList.remove("landing-here");
      [over, target] = placeAt(e);
      over?.classList.add("landing-here");
    };
    const drop = (e) => {
      end.removeEventListener("pointermove", drag);
      line.remove();
      over?.classList.remove("landing-here");
      if (e.type === "pointerup" && target) lead(end.dataset.loose, target);
    };
    end.addEventListener("pointermove", drag);
    end.addEventListener("pointerup", drop, { once: true });
    end.addEventListener("pointercancel", drop, { once: true });
  });
}
