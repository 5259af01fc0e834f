// The columns of the ledger: how many there are, and which are hidden, for oneself and in
// this browser.
//
// What depends on data can't be written into style attributes, which the pages' policy
// forbids. A style sheet made by a script may say it: this is the one place that does.
const made = new CSSStyleSheet();
document.adoptedStyleSheets.push(made);

/**
 * @param {HTMLElement} desk
 * @returns {{ show(): void }} show is called when the head of the ledger is another
 */
export function openColumns(desk) {
  const memory = `omphalos-columns-${desk.dataset.quiz}`;
  const hidden = new Set(remembered(memory));
  let said = "";

  function show() {
    const all = [.../** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("#part-head .col"))];
    const off = all.flatMap((col, i) => (hidden.has(col.dataset.key) ? [`.c${i}`] : []));
    const shown = all.length - off.length;
    // The page comes with as many as it had: to say it again would lay out the whole page.
    const columns =
      shown && !desk.classList.contains(`ledger-${shown}`) ? `.desk { --columns: repeat(${shown}, var(--colw)) }` : "";
    const rules = columns + (off.length ? `:is(${off}) { display: none }` : "");
    if (rules !== said) made.replaceSync((said = rules)); // the same again would lay out the whole page
    for (const box of /** @type {NodeListOf<HTMLInputElement>} */ (
      document.querySelectorAll("#part-scales input[name=column]")
    )) {
      box.checked = !hidden.has(box.value);
    }
  }

  document.addEventListener("change", (event) => {
    const box = /** @type {HTMLInputElement} */ (event.target);
    if (!box.matches("input[name=column]")) return;
    const key = box.value;
    if (box.checked) hidden.delete(key);
    else hidden.add(key);
    remember(memory, [...hidden]);
    show();
  });
  show();
  return { show };
}

/** @param {string} memory */
function remembered(memory) {
  try {
    return JSON.parse(localStorage.getItem(memory) ?? "[]");
  } catch {
    return []; // all of them
  }
}

/** @param {string} memory @param {unknown} value */
function remember(memory, value) {
  try {
    localStorage.setItem(memory, JSON.stringify(value));
  } catch {
    /* for this page only */
  }
}
