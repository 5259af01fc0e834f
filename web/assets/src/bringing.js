// What the server answers is brought onto the page; what is being typed stays.
import { elementOf } from "./elements.js";
import { fields, fieldAt, grow } from "./fields.js";
import { reveal } from "./folding.js";
import { itemAt, keyOf } from "./items.js";
import { notice } from "./notice.js";
import { keepParts } from "./parts.js";
import { renameInPage } from "./renaming.js";

// A cell of a decision table that holds what can't be read: it stands there as wrong.
const unread = "[data-act^='cells?'][aria-invalid]";

/** After is called when the page has changed; sortable makes a list one that can be dragged. */
export function bringParts({ desk, sending, after, sortable }) {
  let focusAfter = null;
  let origin = null;

  // An act may lead the focus to what it has made or moved, but not away from where
  // somebody has gone in the meantime.
  for (const way of ["act", "reuse"]) {
    const send = sending[way];
    sending[way] = (what) => {
      origin = document.activeElement;
      send(what);
    };
  }
  const stayed = () =>
    !document.activeElement?.closest(".fresh") &&
    ([origin, document.body, null].includes(document.activeElement) || !document.activeElement.isConnected);

  // lead remembers that the control that has the focus has it again on an item that moves.
  function lead(item) {
    const { path, act } = document.activeElement?.dataset ?? {};
    focusAfter = { path, act, item };
  }

  function applied(update) {
    if (update.renamed) {
      renameInPage(update.renamed, update.made);
      parts.rename(`part-q-${keyOf(update.renamed)}`, `part-q-${keyOf(update.made)}`);
      sending.renamed(update.renamed, update.made);
      update = { ...update, made: undefined };
    }
    const held = holdFocus();
    for (const [id, html] of Object.entries(update.parts)) parts.bring(id, html);
    for (const [name, ids] of Object.entries(update.orders)) {
      const list = document.getElementById(name);
      for (const child of [...list.children]) if (!ids.includes(child.id) && !child.matches(".fresh")) child.remove();
      ids.forEach((id, i) => {
        let child = document.getElementById(id);
        if (!child && update.parts[id]) {
          child = elementOf(update.parts[id]);
        }
        if (child && list.children[i] !== child) list.insertBefore(child, list.children[i] ?? null);
      });
    }
    desk.dataset.revision = update.revision;
    desk.dataset.shown = update.shown;
    for (const path of update.settled ?? [])
      document.querySelectorAll(`${fields}[data-path="${CSS.escape(path)}"]`).forEach(settle);
    after();
    Object.keys(update.parts).forEach((id) => refresh(document.getElementById(id)));
    if (update.told) notice(update.told);
    if (update.made && stayed()) focusOn(update.made);
    else if (focusAfter && stayed()) {
      const within = itemAt(focusAfter.item);
      const again = focusAfter.path
        ? document.querySelector(`[data-path="${CSS.escape(focusAfter.path)}"]`)
        : within?.querySelector(`[data-act="${focusAfter.act}"]`);
      (again?.disabled ? within.querySelector("textarea,input") : again)?.focus();
    } else held();
    focusAfter = null;
  }

  // A field that is being typed in keeps what is in it, and what is said about it; what
  // the server has for it is taken down all the same, to be shown when it waits no more.
  function mayChange(old, fresh) {
    if (old.matches?.(unread)) return old.value === old.defaultValue;
    if (!old.matches?.(fields) || !(sending.waits(old.dataset.path) || old === document.activeElement)) return true;
    if (fresh.tagName !== old.tagName) return false;
    for (const { name, value } of fresh.attributes) if (old.getAttribute(name) !== value) old.setAttribute(name, value);
    if (old.type === "checkbox") {
      const ticked = old.checked;
      old.defaultChecked = fresh.defaultChecked;
      old.checked = ticked;
    }
    if (old.tagName === "TEXTAREA") old.defaultValue = fresh.defaultValue;
    if (old.tagName === "SELECT") {
      const chosen = old.value;
      old.replaceChildren(...fresh.cloneNode(true).childNodes);
      old.value = chosen;
    }
    return false;
  }
  const mayGo = (old) =>
    old.id !== "offer" &&
    !old.classList?.contains("fresh") &&
    !(
      old.classList?.contains("dispute") ||
      (old.classList?.contains("fieldwrong") &&
        (sending.waits(old.id.slice("wrong-".length)) || old.previousElementSibling?.matches(unread)))
    );

  const parts = keepParts({ beforeNodeMorphed: mayChange, beforeNodeRemoved: mayGo });

  // refresh brings the fields of a part to what the server has, but for those being edited.
  function refresh(part) {
    part?.querySelectorAll(fields).forEach(settle);
    part?.querySelectorAll("[data-list]").forEach(sortable);
  }

  // settle shows what the server has for a field that waits for nothing.
  function settle(field) {
    if (sending.waits(field.dataset.path)) return;
    if (field.tagName === "SELECT") {
      const chosen = [...field.options].findIndex((o) => o.defaultSelected);
      field.selectedIndex = Math.max(chosen, 0);
    } else if (field.type === "checkbox") field.checked = field.defaultChecked;
    else if (field.value !== field.defaultValue && !field.hasAttribute("aria-invalid")) {
      const whole =
        field === document.activeElement &&
        field.value &&
        field.selectionEnd - field.selectionStart === field.value.length;
      field.value = field.defaultValue;
      if (whole) field.select();
    }
    grow(field);
  }

  return { applied, settle, refresh, lead };
}

// holdFocus remembers which control has the focus by what it is for, and returns what
// gives it back where the control has been made anew.
function holdFocus() {
  const at = document.activeElement;
  const name = ["path", "act", "expect"].find((n) => at?.dataset?.[n] !== undefined);
  const item = at?.closest?.("[data-item]")?.dataset.item;
  return () => {
    if (!name || document.activeElement === at || document.activeElement !== document.body) return;
    const within = (item && itemAt(item)) || document;
    within.querySelector(`[data-${name}="${CSS.escape(at.dataset[name])}"]`)?.focus({ preventScroll: true });
  };
}

// goTo focuses the field at a pointer, or the first one of what is around it.
export function goTo(pointer) {
  for (let at = pointer; at.lastIndexOf("/") > 0; at = at.slice(0, at.lastIndexOf("/"))) {
    const field =
      fieldAt(at) ??
      itemAt(at)?.querySelector(fields) ??
      document.querySelector(`${fields}[data-path^="${CSS.escape(at)}/"]`);
    if (!field) continue;
    reveal(field);
    field.scrollIntoView({ block: "center" });
    field.focus({ preventScroll: true });
    return true;
  }
  return false;
}

function focusOn(path) {
  const item = itemAt(path);
  const field = item?.querySelector("textarea,input") ?? document.querySelector(`[data-path="${CSS.escape(path)}/at"]`);
  reveal(field);
  field?.focus();
  field?.select?.();
  item?.scrollIntoView({ block: "nearest" });
}
