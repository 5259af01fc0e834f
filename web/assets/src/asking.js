// What is asked of the server for a change.

/**
 * requestOf returns the address and the options with which a change is sent: {path, value, also}
 * of fields, or one of {act}, {patch}, {walk}, {reuse}, {table, text}, {aim, shares} and {look},
 * which asks for what is there now.
 *
 * @param {string} base address of the quiz
 * @param {any} w
 * @returns {{url: string, method?: string, headers: object, body?: string}}
 */
export function requestOf(base, w) {
  const post = (place, body = "{}", type = "application/json") => ({
    url: `${base}/${place}`,
    method: "POST",
    headers: { "Content-Type": type },
    body,
  });
  if (w.look) return { url: `${base}/draft`, headers: { Accept: "application/json" } };
  if (w.walk) return post(w.walk);
  if (w.table) return post(`tables/${w.table}`, w.text, "text/plain");
  if (w.aim) return post(`aim/${w.aim}`, JSON.stringify(w.shares));
  if (w.reuse) return post(`reuse/${w.reuse}`);
  if (w.act) return post("acts", JSON.stringify(w.act));
  return { ...post("draft", JSON.stringify(w.patch ?? opsOf(w)), "application/json-patch+json"), method: "PATCH" };
}

/** opsOf returns the JSON Patch of a change of a field, and of others with it. */
export const opsOf = ({ path, also, value }) =>
  [path, ...(also ?? [])].map((at) =>
    value === undefined ? { op: "remove", path: at } : { op: "add", path: at, value },
  );
