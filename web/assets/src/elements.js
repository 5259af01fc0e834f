/**
 * An element with properties.
 *
 * @param {string} tag
 * @param {object} [properties]
 * @returns {any}
 */
export const element = (tag, properties) => Object.assign(document.createElement(tag), properties);

/** The element that HTML is. @param {string} html @returns {any} */
export function elementOf(html) {
  const holder = document.createElement("template");
  holder.innerHTML = html;
  return holder.content.firstElementChild;
}

/** An element whose words are read out at once. @param {string} tag @param {object} [properties] */
export function alerting(tag, properties) {
  const said = element(tag, properties);
  said.setAttribute("role", "alert");
  return said;
}

/** A button that does something. @param {string} textContent @param {() => void} onclick */
export const button = (textContent, onclick) =>
  element("button", { type: "button", className: "quiet", textContent, onclick });
