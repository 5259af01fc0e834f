// The fields of a sheet: which there are, and where one stands.
import { alerting } from "./elements.js";

/** Every field that edits a place of the document. */
export const fields = "[data-path]:is(input,textarea,select)";

/** fieldAt returns the field that edits a place. */
export const fieldAt = (path) => document.querySelector(`${fields}[data-path="${CSS.escape(path)}"]`);

/** same tells whether a field holds what the server has for it. */
export function same(field) {
  if (field.type === "checkbox") return field.checked === field.defaultChecked;
  if (field.tagName === "SELECT") return field.options[field.selectedIndex]?.defaultSelected;
  return field.value === field.defaultValue;
}

// grow makes a text as high as its words where the browser does not.
const sizesItself = CSS.supports("field-sizing", "content");
export function grow(field) {
  if (sizesItself || field.tagName !== "TEXTAREA") return;
  field.style.height = "auto";
  field.style.height = field.scrollHeight + "px";
}

// tell says at a field why what it holds was not kept.
export function tell(field, message) {
  clear(field);
  const id = "wrong-" + (field.dataset.path ?? field.dataset.act);
  const p = alerting("p", { className: "fieldwrong", id, textContent: message });
  field.setAttribute("aria-invalid", "true");
  field.setAttribute("aria-describedby", id);
  (field.closest(".cell") ?? field.closest(".line") ?? field).after(p);
}

// clear takes that back.
export function clear(field) {
  document.getElementById("wrong-" + (field.dataset.path ?? field.dataset.act))?.remove();
  field.removeAttribute("aria-invalid");
  field.removeAttribute("aria-describedby");
}
