import { plain, say } from "./say.js";

const make = (tag, properties, attributes = {}) => {
  const el = Object.assign(document.createElement(tag), properties);
  Object.entries(attributes).forEach(([name, value]) => value && el.setAttribute(name, value));
  return el;
};

/**
 * A long list is searched by typing: a combobox over the drop-down, which keeps the choice
 * (WAI-ARIA Authoring Practices, editable combobox with list autocomplete).
 *
 * @param {HTMLSelectElement} select
 */
export function searched(select) {
  const options = [...select.options].filter((o) => o.value);
  const named = () => (select.value ? select.selectedOptions[0].text : "");
  const label = select.labels[0];
  if (label) label.id ||= `label-${select.id}`;
  const by = select.getAttribute("aria-labelledby") ?? label?.id;
  const list = make("ul", { id: `list-${select.name}`, hidden: true }, { role: "listbox", "aria-labelledby": by });
  const field = make(
    "input",
    { className: "field", type: "text", autocomplete: "off", value: named(), placeholder: say("Type to find yours") },
    {
      role: "combobox",
      "aria-expanded": "false",
      "aria-controls": list.id,
      "aria-autocomplete": "list",
      "aria-labelledby": by,
      "aria-describedby": select.getAttribute("aria-describedby"),
      "aria-invalid": select.getAttribute("aria-invalid"),
    },
  );
  const found = make("p", { className: "sr" }, { role: "status" });
  const wrong = make("p", { className: "wrong", id: `lost-${select.name}`, hidden: true }, { role: "alert" });
  let shown = [],
    at = -1;
  const show = (open) => {
    const words = plain(field.value.trim()),
      all = field.value === named();
    shown = open ? options.filter((o) => all || plain(o.text).includes(words)) : [];
    at = all ? shown.findIndex((o) => o.selected) : shown.length && words ? 0 : -1;
    const none = make("li", { className: "none", textContent: say("None of them holds these words.") });
    list.replaceChildren(
      ...shown.map((o, i) => {
        const li = make("li", { id: `${list.id}-${i}`, textContent: o.text }, { role: "option" });
        li.addEventListener("pointerdown", (event) => event.preventDefault());
        li.addEventListener("click", () => take(o));
        return li;
      }),
      ...(open && !shown.length ? [none] : []),
    );
    list.hidden = !open;
    field.setAttribute("aria-expanded", String(open));
    found.textContent = open && !all ? `${say("Found:")} ${shown.length}` : "";
    mark();
  };
  const mark = () => {
    list.querySelectorAll("[role=option]").forEach((li, i) => {
      li.classList.toggle("at", i === at);
      li.setAttribute("aria-selected", String(i === at));
    });
    if (at < 0) return field.removeAttribute("aria-activedescendant");
    field.setAttribute("aria-activedescendant", list.children[at].id);
    list.children[at].scrollIntoView({ block: "nearest" });
  };
  const take = (option) => {
    select.value = option?.value ?? "";
    field.value = option?.text ?? "";
    show(false);
    check();
    select.dispatchEvent(new Event("change", { bubbles: true }));
  };
  field.addEventListener("focus", () => field.select());
  field.addEventListener("input", () => {
    if (!field.value) take(null);
    show(true);
  });
  field.addEventListener("click", () => show(true));
  field.addEventListener("keydown", (event) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      if (list.hidden) show(true);
      else at = Math.max(0, Math.min(shown.length - 1, at + step));
      mark();
    } else if (event.key === "Enter" && !list.hidden && at >= 0) {
      event.preventDefault();
      take(shown[at]);
    } else if (event.key === "Escape") show(false);
  });
  // Words that nothing holds are no answer: they stay, and it is said before one goes on.
  const check = () => {
    const lost = field.value.trim() !== "" && field.value !== named();
    wrong.hidden = !lost;
    wrong.textContent = lost ? say("Nothing in the list is called so. Choose from it, or leave this empty.") : "";
    field.toggleAttribute("aria-invalid", lost);
    return !lost;
  };
  field.addEventListener("blur", () => {
    const words = plain(field.value.trim()),
      same = options.filter((o) => plain(o.text) === words);
    if (same.length === 1) take(same[0]); // it was typed in full
    show(false);
    check();
  });
  select.form.addEventListener("submit", (event) => {
    if (check() || /** @type {HTMLButtonElement} */ (event.submitter)?.value === "back") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    field.focus();
  });
  select.hidden = true;
  select.tabIndex = -1;
  const box = make("div", { className: "searched" });
  box.append(field, list, found);
  select.after(box, wrong);
}
