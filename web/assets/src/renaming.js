// The name of a question follows its words while nothing else knows it, and can be written
// where it stands. What is open on the page goes on under the new name.

/** handleNames lets names follow words that were changed, when their field is left. */
export function handleNames({ sending, flush }) {
  let began = null; // {field, words}: a question whose name follows

  document.addEventListener("focusin", ({ target }) => {
    began = target.matches?.("[data-follows]") ? { field: target, words: target.value } : null;
  });
  document.addEventListener("focusout", ({ target }) => {
    if (began?.field !== target || target.value === began.words || !target.value.trim()) return;
    flush();
    sending.act({ do: "rename", path: target.closest("[data-item]").dataset.item, key: "" });
  });
}

/**
 * renameInPage lets a part of the page stand for what has another path now.
 *
 * @param {string} from @param {string} to
 */
export function renameInPage(from, to) {
  const last = (path) => path.slice(path.lastIndexOf("/") + 1);
  const whole = new RegExp(`${from}(?=[/&?"]|$)`, "g");
  const id = new RegExp(`^(part-q|weights)-${last(from)}$`);
  const part = document.getElementById(`part-q-${last(from)}`);
  for (const el of part ? [part, ...part.querySelectorAll("*")] : []) {
    for (const { name, value } of [...el.attributes]) {
      const now = name === "id" || name === "popovertarget" ? value.replace(id, `$1-${last(to)}`) : value;
      const fresh = now.replace(whole, to);
      if (fresh !== value) el.setAttribute(name, fresh);
    }
  }
}
