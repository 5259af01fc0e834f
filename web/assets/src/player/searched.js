import { plain, say } from "./say.js";

/**
 * A long list is searched by typing: a combobox over the drop-down, which keeps the choice.
 *
 * @param {HTMLSelectElement} select
 */
export function searched(select) {
  const box = document.createElement("div"),
    field = document.createElement("input"),
    list = document.createElement("ul");
  const options = [...select.options].filter((o) => o.value);
  box.className = "searched";
  Object.assign(field, {
    className: "field",
    type: "text",
    autocomplete: "off",
    value: select.selectedOptions[0]?.text ?? "",
    placeholder: say("Type to find yours"),
  });
  Object.assign(list, { id: `list-${select.name}`, hidden: true });
  list.setAttribute("role", "listbox");
  const set = (el, values) => Object.entries(values).forEach(([k, v]) => el.setAttribute(k, v));
  set(field, {
    role: "combobox",
    "aria-expanded": "false",
    "aria-controls": list.id,
    "aria-autocomplete": "list",
    "aria-labelledby": select.getAttribute("aria-labelledby"),
  });
  set(list, { "aria-labelledby": select.getAttribute("aria-labelledby") });
  let shown = [],
    at = -1;
  const show = (open) => {
    const words = plain(field.value.trim()),
      chosen = select.selectedOptions[0]?.text;
    shown = open ? options.filter((o) => field.value === chosen || plain(o.text).includes(words)) : [];
    at = shown.length && words && field.value !== chosen ? 0 : -1;
    list.replaceChildren(
      ...(shown.length || !open
        ? shown.map((o, i) => {
            const li = Object.assign(document.createElement("li"), { id: `${list.id}-${i}`, textContent: o.text });
            set(li, { role: "option", "aria-selected": String(o.selected) });
            li.addEventListener("pointerdown", (event) => event.preventDefault());
            li.addEventListener("click", () => take(o));
            return li;
          })
        : [
            Object.assign(document.createElement("li"), {
              className: "none",
              textContent: say("None of them holds these words."),
            }),
          ]),
    );
    list.hidden = !open;
    field.setAttribute("aria-expanded", String(open));
    mark();
  };
  const mark = () => {
    [...list.children].forEach((li, i) => li.classList.toggle("at", i === at));
    if (at < 0) return field.removeAttribute("aria-activedescendant");
    field.setAttribute("aria-activedescendant", list.children[at].id);
    list.children[at].scrollIntoView({ block: "nearest" });
  };
  const take = (option) => {
    select.value = option?.value ?? "";
    field.value = option?.text ?? "";
    show(false);
    select.dispatchEvent(new Event("change", { bubbles: true }));
  };
  field.addEventListener("input", () => {
    if (!field.value) take(null);
    show(true);
  });
  field.addEventListener("click", () => show(true));
  field.addEventListener("keydown", (event) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) {
      event.preventDefault();
      if (list.hidden) show(true);
      at = Math.max(0, Math.min(shown.length - 1, at + by));
      mark();
    } else if (event.key === "Enter" && !list.hidden && at >= 0) {
      event.preventDefault();
      take(shown[at]);
    } else if (event.key === "Escape") show(false);
  });
  // Words that nothing holds are no answer: they stay, and it is said before one goes on.
  const check = () => {
    const lost = field.value.trim() !== "" && field.value !== (select.selectedOptions[0]?.text ?? "");
    field.setCustomValidity(lost ? say("Nothing in the list is called so. Choose from it, or leave this empty.") : "");
    return !lost;
  };
  field.addEventListener("blur", () => {
    show(false);
    check();
  });
  select.form.addEventListener("submit", (event) => {
    if (check() || event.submitter?.value === "back") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    field.reportValidity();
  });
  select.hidden = true;
  select.tabIndex = -1;
  box.append(field, list);
  select.after(box);
}
