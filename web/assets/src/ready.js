// What could be meant is offered while one types: a ready-made question, or the next
// answer of a series that has been begun. Nothing is taken but on purpose.
import { element } from "./elements.js";

export function offerReady({ sending, flush }) {
  const given = document.getElementById("ready").dataset;
  const ready = JSON.parse(given.ready);
  const question = /^\/questions\/[^/]+\/label$/,
    answer = /^\/questions\/[^/]+\/answers\/[^/]+\/label$/;
  let offered = null; // {field, take}

  const words = (text) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

  // meant finds the question that most of what is typed brings up.
  function meant(text) {
    const typed = words(text).filter((w, i, all) => i === all.length - 1 || !given.commonplace.split(" ").includes(w));
    if (!typed.length || text.trim().length < 3) return null;
    const last = typed.length - 1;
    const score = (q) =>
      typed.filter((w, i) =>
        [...q.words.flatMap(words), ...words(q.label)].some(
          (other) => other === w || (i === last && w.length > 2 && other.startsWith(w)),
        ),
      ).length;
    const best = ready.map((q) => ({ q, n: score(q) })).sort((a, b) => b.n - a.n)[0];
    return best && best.n / typed.length >= 0.5 ? best.q : null;
  }

  // nextOf continues a series: the answers above are the beginning of it.
  function nextOf(field) {
    const all = [...field.closest("[data-list]").querySelectorAll("[data-item] textarea")].filter((f) =>
      answer.test(f.dataset.path),
    );
    const above = all.slice(0, all.indexOf(field)).map((f) => f.value.trim().toLowerCase());
    if (!above.length) return null;
    const q = ready.find(
      ({ answers }) => answers.length > above.length && above.every((a, i) => a === answers[i].toLowerCase()),
    );
    return q?.answers[above.length] ?? null;
  }

  function drop() {
    const box = document.getElementById("offer");
    offered = null;
    box?.removeAttribute("id"); // what has the focus in it may leave only once
    box?.remove();
  }

  // offer shows below a field what could be meant: it is taken by pressing it, or by the
  // arrow down and Enter, and never by going on.
  function offer(field, text, button, take) {
    drop();
    const box = element("p", { id: "offer", className: "offer" });
    box.setAttribute("role", "status");
    box.append(text + " ");
    const taker = element("button", {
      type: "button",
      className: "quiet small",
      textContent: button,
      tabIndex: -1,
    });
    taker.addEventListener("click", take);
    taker.addEventListener("keydown", (event) => {
      if (event.key === "ArrowUp" || event.key === "Escape") {
        event.preventDefault();
        event.stopPropagation();
        field.focus();
        if (event.key === "Escape") drop();
      }
    });
    box.append(taker, element("kbd", { textContent: "↓ Enter" }));
    field.closest(".words").after(box);
    offered = { field, taker };
  }

  function look(field) {
    drop();
    const path = field.dataset?.path ?? "";
    if (question.test(path)) {
      const rows = [...field.closest("[data-item]").querySelectorAll(".answer textarea")];
      if (!rows.length || rows.some((f) => f.value.trim())) return; // it takes none, or has some of its own
      const q = meant(field.value);
      if (q)
        offer(
          field,
          `Answers ready-made for it: ${q.answers.slice(0, 3).join(", ")}${q.answers.length > 3 ? " …" : ""}`,
          `Add these ${q.answers.length}`,
          () => takeAnswers(field, q),
        );
    } else if (answer.test(path) && !field.value) {
      const next = nextOf(field);
      if (next) offer(field, "The series goes on:", next, () => takeAnswer(field, next));
    }
  }

  // takeAnswers adds the answers; the question stays as it was worded.
  function takeAnswers(field, q) {
    drop();
    flush();
    const path = field.dataset.path.slice(0, -"/label".length);
    const answers = Object.fromEntries(q.answers.map((label, i) => [`answer_${i + 1}`, { order: i + 1, label }]));
    field.focus();
    sending.patch([{ op: "add", path: `${path}/answers`, value: answers }]);
  }

  function takeAnswer(field, label) {
    drop();
    field.value = label;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    flush();
    const item = field.closest("[data-item]").dataset.item;
    const next = field.closest("[data-item]").nextElementSibling?.querySelector("textarea");
    if (next) return next.focus();
    sending.act({
      do: "add",
      path: item.slice(0, item.lastIndexOf("/")),
      after: item.slice(item.lastIndexOf("/") + 1),
    });
  }

  document.addEventListener("input", (event) => look(event.target));
  document.addEventListener("focusin", (event) => {
    if (!event.target.closest("#offer")) look(event.target);
  });
  document.addEventListener("focusout", (event) => {
    if (!event.relatedTarget?.closest?.("#offer")) drop();
  });
  document.addEventListener(
    "keydown",
    (event) => {
      if (!offered || event.target !== offered.field) return;
      if (event.key === "ArrowDown" && !event.altKey) {
        event.preventDefault();
        offered.taker.focus();
      } else if (event.key === "Escape") drop();
    },
    true,
  );

  // Lines that are pasted into an answer become an answer each.
  document.addEventListener("paste", (event) => {
    const field = event.target;
    const list = /^(\/questions\/[^/]+\/(?:answers|rows))\/([^/]+)\/label$/.exec(field.dataset?.path ?? "");
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (!list || text.trim().split("\n").length < 2) return;
    event.preventDefault();
    flush();
    sending.act({ do: "lines", path: list[1], after: list[2], label: text });
  });
}
