// What can be moved, copied and deleted, each at its place of the document.

/** itemAt returns the element of a place. */
export const itemAt = (path) => document.querySelector(`[data-item="${CSS.escape(path)}"]`);

/** keyOf returns the last part of a path. */
export const keyOf = (path) => path.slice(path.lastIndexOf("/") + 1);

// sectionAbove returns the section under whose head a question stands.
export function sectionAbove(item) {
  for (let el = item.previousElementSibling; el; el = el.previousElementSibling)
    if (el.dataset.section !== undefined) return el.dataset.section;
  return undefined;
}
