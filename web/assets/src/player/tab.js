// What this tab remembers. A browser that blocks cookies keeps its store from the page, too: then
// it is remembered as long as the page is shown.
const here = new Map();

/** @param {string} key */
export function kept(key) {
  try {
    return sessionStorage.getItem(key);
  } catch {
    return here.get(key) ?? null;
  }
}

/** @param {string} key @param {string | null} value nothing forgets it */
export function keep(key, value) {
  try {
    if (value === null) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, value);
  } catch {
    here.set(key, value);
  }
}
