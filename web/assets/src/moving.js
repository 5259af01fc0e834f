// Items are moved by buttons, keys and by dragging.
import Sortable from "sortablejs";
import { itemAt, keyOf, sectionAbove } from "./items.js";

/** Lead is called before an act with what has to have the focus after it. */
export function handleMoving({ sending, flush, picks, lead }) {
  // move puts an item one place up or down among its like.
  function move(path, way) {
    const item = itemAt(path);
    if (picks.has(path)) return picks.move(way);
    if (path.startsWith("/sections/")) return moveSection(path, way);
    const other = way === "up" ? item?.previousElementSibling : item?.nextElementSibling;
    if (other?.dataset.section !== undefined) return intoSection(item, other, way);
    if (!other?.dataset.item) return;
    lead(path);
    sending.act({ do: "move", path, [way === "up" ? "before" : "after"]: keyOf(other.dataset.item) });
  }

  function moveSection(path, way) {
    const heads = [...document.querySelectorAll("#questions > [data-section]")].map((s) => s.dataset.section);
    const other = heads[heads.indexOf(keyOf(path)) + (way === "up" ? -1 : 1)];
    if (other !== undefined) sending.act({ do: "move", path, [way === "up" ? "before" : "after"]: other });
  }

  // intoSection moves a question over the head of a section into the next one.
  function intoSection(item, head, way) {
    const into = way === "up" ? sectionAbove(head) : head.dataset.section;
    if (into === undefined) return;
    const next = way === "up" ? null : head.nextElementSibling?.dataset.item;
    lead(item.dataset.item);
    sending.act({ do: "move", path: item.dataset.item, into, ...(next ? { before: keyOf(next) } : {}) });
  }

  function sortable(list) {
    if (list.sortable) return;
    list.sortable = Sortable.create(list, {
      handle: ".grip",
      draggable: "[data-item]",
      forceFallback: true,
      fallbackTolerance: 3,
      animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
      onEnd(event) {
        if (event.oldIndex === event.newIndex) return;
        flush();
        const path = event.item.dataset.item,
          block = picks.has(path);
        let next = event.item.nextElementSibling,
          last = event.item.previousElementSibling;
        while (block && picks.has(next?.dataset.item)) next = next.nextElementSibling;
        while (block && picks.has(last?.dataset.item)) last = last.previousElementSibling;
        const place = next?.dataset.item
          ? { before: keyOf(next.dataset.item) }
          : last?.dataset.item
            ? { after: keyOf(last.dataset.item) }
            : {};
        sending.act({
          do: "move",
          ...(block ? { paths: picks.paths() } : { path }),
          ...place,
          into: sectionAbove(event.item),
        });
      },
    });
  }

  return { move, sortable };
}
