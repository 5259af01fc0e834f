// A brace that is typed into a text, an address or a formula opens the list of what can stand
// there. It is narrowed by what follows, gone through by the arrow keys and taken by Enter.
import { element } from "./elements.js";

const fillable = "#desk :is(textarea,input:not([type]),input[type=text],input[type=url])[data-path]:not([data-type])";
const begun = /\{([?&#/]?)([A-Za-z0-9_.]*)$/;

/** offerFillins opens the list where a brace is typed. */
export function offerFillins() {
  const list = element("ul", {
    id: "fillin-list",
    className: "fillinlist",
    hidden: true,
  });
  list.setAttribute("role", "listbox");
  list.setAttribute("aria-label", "What can be filled in");
  document.body.append(list);
  let open = null; // {field, from, choices}
  let at = 0;
  let took = false;

  // choicesFor are the names that a field takes; a formula says its own beside it.
  function choicesFor(field) {
    const own = field.closest(".formula")?.querySelectorAll("[data-insert]");
    const all = own ?? document.querySelectorAll("#part-fills [data-insert]");
    return [...all].map((button) => ({
      text: button.dataset.insert,
      what: button.querySelector("[class~=what]")?.textContent ?? "",
      sample: button.querySelector("small")?.textContent ?? "",
    }));
  }

  function look(field) {
    const typed = begun.exec(field.value.slice(0, field.selectionStart));
    if (!typed) return close();
    const words = typed[2].toLowerCase();
    const choices = choicesFor(field).filter(({ text, what }) =>
      [text.replace(/[{}]/g, ""), ...what.split(/\s+/)].some((w) => w.toLowerCase().startsWith(words)),
    );
    if (!choices.length) return close();
    open = { field, from: typed.index, choices };
    at = 0;
    show();
  }

  function show() {
    list.replaceChildren(...open.choices.map(choiceOf));
    list.hidden = false;
    const { left, bottom } = open.field.getBoundingClientRect();
    list.style.left = `${left + scrollX}px`;
    list.style.top = `${bottom + scrollY + 2}px`;
    open.field.setAttribute("aria-controls", list.id);
    point();
  }

  function choiceOf({ text, what, sample }, i) {
    const li = element("li", { id: `fillin-${i}` });
    li.setAttribute("role", "option");
    const say = (tag, words) => li.append(element(tag, { textContent: words }));
    say("code", text);
    say("span", what);
    say("small", sample);
    li.addEventListener("pointerdown", (event) => {
      event.preventDefault(); // the field keeps the focus
      at = i;
      take();
    });
    return li;
  }

  function point() {
    [...list.children].forEach((li, i) => li.setAttribute("aria-selected", String(i === at)));
    list.children[at].scrollIntoView({ block: "nearest" });
    open.field.setAttribute("aria-activedescendant", `fillin-${at}`);
  }

  function take() {
    const { field, from, choices } = open;
    const { text } = choices[at];
    close();
    const rest = field.value.slice(field.selectionStart).startsWith("}") ? 1 : 0; // it is closed already
    const operator = /^\{[?&#/]/.exec(field.value.slice(from))?.[0].slice(1) ?? "";
    const into = text.startsWith("{") ? `{${operator}${text.slice(1)}` : text;
    field.setRangeText(into, from, field.selectionStart + rest, "end");
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }

  function close() {
    open?.field.removeAttribute("aria-controls");
    open?.field.removeAttribute("aria-activedescendant");
    open = null;
    list.hidden = true;
  }

  document.addEventListener("input", ({ target }) => {
    if (target.matches?.(fillable)) look(target);
  });
  document.addEventListener("focusout", close);
  // The Enter that takes puts no line break, however it is typed.
  document.addEventListener(
    "keypress",
    (event) => {
      if (took && event.key === "Enter") event.preventDefault();
      took = false;
    },
    true,
  );
  document.addEventListener(
    "keydown",
    (event) => {
      took = false;
      if (!open || event.target !== open.field) return;
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (by) {
        at = (at + by + open.choices.length) % open.choices.length;
        point();
      } else if (event.key === "Enter" || event.key === "Tab") {
        take();
        took = true;
      } else if (event.key === "Escape") close();
      else return;
      event.preventDefault();
      event.stopPropagation();
    },
    true,
  );
}
