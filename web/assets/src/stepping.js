// What arrow keys set goes on from where they have come to, whatever the server says meanwhile.
const rest = 600; // ms after the last key from when on it goes on from what is shown

let last = { of: "", at: null, when: 0 };

/**
 * The value to go on from, of something with a name.
 *
 * @template T
 * @param {string} of @param {T} shown
 * @returns {T}
 */
export const from = (of, shown) => (last.of === of && Date.now() - last.when < rest ? last.at : shown);

/** Notes the value that a key has come to, and returns it. @template T @param {string} of @param {T} at */
export function stepped(of, at) {
  last = { of, at, when: Date.now() };
  return at;
}
