// What fields hold, as JSON.

export const wrong = Symbol("wrong");

export const isNumber = (field) => ["number", "factor", "times", "bracket"].includes(field.dataset.type);

// isLate tells whether a field is sent when it is left: half of what it takes is wrong.
export const isLate = (field) => isNumber(field) || field.dataset.late !== undefined;

// valueOf returns what a text means in a field; undefined stands for nothing, wrong
// for no number.
export function valueOf(field, typed = field.value) {
  const { type, needed, from, replaces } = field.dataset;
  if (type === "bool") return field.checked;
  if (type === "unless") return !field.checked;
  if (type === "list") return typed.split(/[\s,;]+/).filter(Boolean);
  if (type === "date") return typed || (needed ? wrong : undefined);
  if (!isNumber(field)) return typed;
  const signed = typed.trim().replace(/^[×*]/, "").replace("−", "-").replace(/^\+/, "");
  const between = /^-?\d{1,3}(,\d{3})+(\.\d+)?$/.test(signed); // commas stand between thousands
  const text = between ? signed.replaceAll(",", "") : signed.replace(",", ".");
  if (text === "") return needed ? wrong : undefined;
  if (!/^-?(\d+(\.\d+)?|\.\d+)$/.test(text) || text.length >= 20) return wrong;
  const n = Number(text);
  if (type === "factor") return { factor: n };
  if (type !== "bracket") return n;
  const bracket = from ? { from: JSON.parse(from), adds: n } : { adds: n };
  return replaces ? { brackets: { [replaces]: bracket } } : bracket;
}

/**
 * actOf reads an act as a control says it: "add?path=/scales&kind=points". What is said to be
 * $value is what the control holds.
 *
 * @param {string} said @param {string} [value]
 */
export function actOf(said, value = "") {
  const [what, rest] = said.split("?");
  const parts = [...new URLSearchParams(rest)].map(([name, part]) => [name, part === "$value" ? value : part]);
  return { do: what, ...Object.fromEntries(parts) };
}

/**
 * patchOf returns the JSON Patch of a control: of a box that is not ticked its data-else; of a
 * list whose patch is said to be $value that of its choice.
 *
 * @param {any} control
 */
export function patchOf({ type, checked, value, dataset }) {
  if (type === "checkbox" && !checked && dataset.else) return JSON.parse(dataset.else);
  return JSON.parse(dataset.patch === "$value" ? value : dataset.patch);
}

// keptIn returns what the server has for a field, as text.
export function keptIn(field) {
  if (field.type === "checkbox") return String(field.defaultChecked);
  if (field.tagName === "SELECT") return ([...field.options].find((o) => o.defaultSelected) ?? field.options[0])?.value;
  return field.defaultValue;
}
