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
  if (type === "date") return typed || (needed ? wrong : undefined);
  if (!isNumber(field)) return typed;
  const text = typed.trim().replace(/^[×*]/, "").replace("−", "-").replace(/^\+/, "").replace(",", ".");
  if (text === "") return needed ? wrong : undefined;
  if (!/^-?(\d+(\.\d+)?|\.\d+)$/.test(text) || text.length >= 20) return wrong;
  const n = Number(text);
  if (type === "factor") return { factor: n };
  if (type !== "bracket") return n;
  const bracket = from ? { from: JSON.parse(from), adds: n } : { adds: n };
  return replaces ? { brackets: { [replaces]: bracket } } : bracket;
}

// keptIn returns what the server has for a field, as text.
export function keptIn(field) {
  if (field.type === "checkbox") return String(field.defaultChecked);
  if (field.tagName === "SELECT") return [...field.options].find((o) => o.defaultSelected)?.value;
  return field.defaultValue;
}
