// What is said here, in the language of the page where that is another.
const said = () => JSON.parse(document.body?.dataset.said ?? "{}");

/**
 * A sentence of ours (web/player/tongue.go) as the page's language has it.
 *
 * @param {string} english
 * @returns {string}
 */
export const say = (english) => said()[english] ?? english;

/**
 * Words as they are compared with what is typed: small letters, without marks on them.
 *
 * @param {string} words
 */
export const plain = (words) => words.normalize("NFKD").replace(/\p{M}/gu, "").toLowerCase();
