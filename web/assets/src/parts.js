// Parts of the page are brought to what the server sends, and what has not changed since
// it sent them last is left alone: of a question of many rows, one is looked at.
import { Idiomorph } from "idiomorph";
import { elementOf } from "./elements.js";

// Moving the list of an input by moveBefore ends the page in Chromium (156 and before, at
// the least). Without it Idiomorph moves elements as pages always could.
for (const kind of [Element, Document, DocumentFragment]) delete kind.prototype.moveBefore;

// What a person changes: it is brought with care for what stands in it.
const held = "input,textarea,select,option,dialog,details";

const same = (a, b) => a.nodeName === b.nodeName && a.id === b.id && a.dataset?.item === b.dataset?.item;

// alike tells whether three elements have the same kinds of things in them, in one order.
function alike(live, before, fresh) {
  if (fresh.matches(held)) return false;
  const [a, b, c] = [live, before, fresh].map((el) => el.childNodes);
  return a.length === c.length && b.length === c.length && [...c].every((el, i) => same(el, a[i]) && same(el, b[i]));
}

// dress gives an element the attributes that the server changed.
function dress(live, before, fresh) {
  for (const { name, value } of fresh.attributes)
    if (before.getAttribute(name) !== value) live.setAttribute(name, value);
  for (const { name } of before.attributes) if (!fresh.hasAttribute(name)) live.removeAttribute(name);
}

export function keepParts(callbacks) {
  const last = new Map(); // part → as the server sent it last

  const morph = (live, fresh) => Idiomorph.morph(live, fresh.cloneNode(true), { restoreFocus: true, callbacks });

  // walk goes down to what differs between two versions of the server, as long as the three
  // stand alike: what the server did not change is left as the page has it.
  function walk(live, before, fresh) {
    if (before.isEqualNode(fresh)) return;
    if (!alike(live, before, fresh)) return morph(live, fresh);
    dress(live, before, fresh);
    fresh.childNodes.forEach((node, i) => {
      const [was, there] = [before.childNodes[i], live.childNodes[i]];
      if (node.nodeType === Node.ELEMENT_NODE) walk(there, was, node);
      else if (node.nodeValue !== was.nodeValue) there.nodeValue = node.nodeValue;
    });
  }

  // A row may be sent without the part that it is a row of.
  const part = (live) => live.closest("[id^=part-]") ?? live;
  const inside = (tree, id) => tree.querySelector(`[id="${CSS.escape(id)}"]`);

  return {
    // rename says that a part has another name now: it is brought as a new one, in its place.
    rename(from, to) {
      last.delete(from);
      last.delete(to);
    },
    // bring makes a part, or a row of one, what the server sends.
    bring(id, html) {
      const live = document.getElementById(id),
        fresh = elementOf(html);
      if (!live) return void last.set(id, fresh);
      const whole = part(live);
      const tree = last.get(whole.id);
      const before = live === whole ? tree : (tree && inside(tree, id)) || last.get(id);
      if (live === whole) fresh.querySelectorAll("[id^=row-]").forEach((row) => last.delete(row.id));
      if (live !== whole && tree) before?.replaceWith(fresh.cloneNode(true));
      else last.set(id, fresh);
      if (before) walk(live, before, fresh);
      else morph(live, fresh);
    },
  };
}
