import { keep, kept } from "./tab.js";

// What is typed is kept in this tab until it has arrived at the server, so that a page that is
// loaded again has it.
const key = (form) => "typed " + new URL(form.getAttribute("action") || location.href, location.href).pathname;
const unseen = ["token", "passage", "asked", "website"];

document.addEventListener("input", (event) => {
  const form = /** @type {HTMLInputElement} */ (event.target).form;
  if (!form?.matches("form.quiz,form.contact")) return;
  keep(key(form), JSON.stringify([...new FormData(form)].filter(([name]) => !unseen.includes(name))));
});

/** Puts back what was typed into the forms of this page. */
export function remembered() {
  for (const form of document.querySelectorAll("form.quiz,form.contact")) {
    const typed = JSON.parse(kept(key(form)) ?? "null");
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
export const forget = (form) => keep(key(form), null);
