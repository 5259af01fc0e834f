// Parts of the page are brought to what the server sends, and what has not changed since
// it sent them last is left alone: of a question of many rows, one is looked at.
import { Idiomorph } from "idiomorph";

// Moving the list of an input by moveBefore ends the page in Chromium (156 and before, at
// the least). Without it Idiomorph moves elements as pages always could.
for (const kind of [Element, Document, DocumentFragment]) delete kind.prototype.moveBefore;

export function keepParts(callbacks) {
  const last = new Map(); // part → as the server sent it last

  const parse = (html) => {
    const holder = document.createElement("template");
    holder.innerHTML = html;
    return holder.content.firstElementChild;
  };
  const morph = (live, fresh) => Idiomorph.morph(live, fresh.cloneNode(true), { restoreFocus: true, callbacks });
  const same = (a, b) => a.tagName === b.tagName && a.id === b.id && a.dataset?.item === b.dataset?.item;
  const shallow = (el) => el.cloneNode(false);
  const texts = (el) =>
    [...el.childNodes]
      .filter((n) => n.nodeType === Node.TEXT_NODE)
      .map((n) => n.data.trim())
      .join("|");

  // walk goes down to what differs between two versions of the server, as long as the
  // three stand alike.
  function walk(live, before, fresh) {
    if (before.isEqualNode(fresh)) return;
    const a = [...live.children],
      b = [...before.children],
      c = [...fresh.children];
    const alike =
      c.length > 0 &&
      a.length === c.length &&
      b.length === c.length &&
      c.every((el, i) => same(el, b[i]) && same(el, a[i])) &&
      shallow(before).isEqualNode(shallow(fresh)) &&
      texts(before) === texts(fresh);
    if (!alike) return morph(live, fresh);
    c.forEach((el, i) => walk(a[i], b[i], el));
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
        fresh = parse(html);
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
