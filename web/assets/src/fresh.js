// What is added stands there at once, empty, in its place: what is typed into it before the
// server has answered is put into the thing itself when that has come.
import { element } from "./elements.js";
import { itemAt, keyOf } from "./items.js";
import { gone } from "./notice.js";

// The lists whose things begin with words, and what a new one is called.
const lists = [
  [/^\/questions\/[^/]+\/answers$/, "answer"],
  [/^\/questions\/[^/]+\/rows$/, "row"],
  [/^\/questions$/, "question"],
  [/^\/sections$/, "section"],
  [/^\/outcomes$/, "outcome"],
  [/^\/contact\/fields$/, "field"],
];
const several = ["answer", "row"]; // after which Enter goes on with one more
const plain = ["do", "path", "after", "before", "kind"]; // what is said of a thing without words yet

/**
 * Lets an act that adds something be done at a field that stands in for it.
 *
 * @param {{sending: any}} sheet
 * @returns {() => void} puts the fields that stand in where they belong, after the page has changed
 */
export function keepFresh({ sending }) {
  const act = sending.act;
  const standing = new Set();
  let made = 0;

  sending.act = (what) => {
    const empty = what.do === "add" && Object.keys(what).every((key) => plain.includes(key));
    const name = empty && lists.find(([path]) => RegExp(path).test(what.path))?.[1];
    const list = document.querySelector(`[data-list="${what.path === "/sections" ? "/questions" : what.path}"]`);
    if (!name || !list) return act(what);
    standIn(what, name, list).send(what);
  };

  function standIn(what, name, list) {
    const field = element("textarea", { className: "ink", rows: 1, ariaLabel: `New ${name}` });
    const box = element("div", { className: "fresh", id: `fresh-${++made}` }); // a name, so that no other is made of it
    box.append(field);
    const one = { box, field, after: what.after, before: what.before, list, send, next: null };
    let cancelled = false;
    standing.add(one);
    place(one);
    field.focus();

    field.addEventListener("keydown", (event) => {
      if (event.key === "Enter" && !event.shiftKey) {
        event.preventDefault();
        if (several.includes(name) && field.value.trim()) follow();
      } else if (event.key === "Backspace" && !field.value && !event.repeat) {
        event.preventDefault();
        cancelled = true;
        box.hidden = true;
        (itemAt(`${what.path}/${one.after}`) ?? list).querySelector("textarea")?.focus();
      }
    });

    // follow adds one more behind this one, which is sent as soon as this one has a key.
    function follow() {
      one.next = standIn({ ...what, after: undefined }, name, list);
      one.next.behind = one;
      place(one.next);
    }

    function send(asked) {
      act({ ...asked, done: come });
    }

    // come puts what was typed into what the server has made; path is undefined where it has not.
    function come(path) {
      const { value, selectionStart } = field;
      const focused = document.activeElement === field;
      const to = path && itemAt(path)?.querySelector("textarea,input");
      standing.delete(one);
      box.remove();
      if (cancelled) path && act({ do: "remove", path });
      else if (!to) value.trim() && gone(value);
      else fill(to, value, focused && selectionStart);
      if (!one.next) return;
      one.next.behind = null;
      one.next.after = path && !cancelled ? keyOf(path) : what.after;
      one.next.send({ ...what, after: one.next.after });
      if (focused) one.next.field.focus();
    }
    return one;
  }

  function place(one) {
    let beside = one.behind?.box ?? itemAt(`${one.list.dataset.list}/${one.after ?? one.before}`);
    while (beside && beside.parentElement !== one.list) beside = beside.parentElement;
    const before = !one.behind && one.before && !one.after;
    const next = beside ? (before ? beside : beside.nextSibling) : null;
    if (one.box.parentElement !== one.list || (one.box.nextSibling !== next && next !== one.box)) {
      const focused = document.activeElement === one.field;
      one.list.insertBefore(one.box, next);
      if (focused) one.field.focus();
    }
  }

  return () => standing.forEach(place);
}

// fill puts words into a field as if they were typed there.
function fill(field, value, caret) {
  if (value) {
    field.value = value;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  if (caret === false) return;
  field.focus();
  if (value) field.setSelectionRange?.(caret, caret);
  else field.select();
}
