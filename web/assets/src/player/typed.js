// What is typed is kept in this tab until it has arrived at the server, so that a page that is
// loaded again has it.
const key = (form) => "typed " + new URL(form.getAttribute("action") || location.href, location.href).pathname;
const unseen = ["token", "passage", "asked", "website"];

document.addEventListener("input", (event) => {
  const form = /** @type {HTMLInputElement} */ (event.target).form;
  if (!form?.matches("form.quiz,form.contact")) return;
  const typed = [...new FormData(form)].filter(([name]) => !unseen.includes(name));
  try {
    sessionStorage.setItem(key(form), JSON.stringify(typed));
  } catch {
    /* a private window may have no room */
  }
});

/** Puts back what was typed into the forms of this page. */
export function remembered() {
  for (const form of document.querySelectorAll("form.quiz,form.contact")) {
    let typed = null;
    try {
      typed = JSON.parse(sessionStorage.getItem(key(form)) ?? "null");
    } catch {
      /* likewise */
    }
    if (!typed) continue;
    for (const field of /** @type {NodeListOf<HTMLInputElement>} */ (
      form.querySelectorAll("input:not([type=hidden]),textarea,select")
    )) {
      const values = typed.filter(([name]) => name === field.name).map(([, value]) => value);
      if (field.matches("[type=radio],[type=checkbox]")) field.checked = values.includes(field.value);
      else if (values.length) field.value = values[0];
    }
  }
}

/** Forgets what was typed into a form: it has arrived. */
export function forget(form) {
  try {
    sessionStorage.removeItem(key(form));
  } catch {
    /* likewise */
  }
}
