/**
 * The field for own words, which shows with the answer that asks for them, is the next to type
 * into.
 *
 * @param {HTMLInputElement} choice
 */
export function ownWords(choice) {
  choice.addEventListener("change", () => {
    if (choice.checked) document.getElementById(choice.dataset.words).querySelector("input").focus();
  });
}

/**
 * What can't be chosen beside the others any more is off until one of them is taken back.
 *
 * @param {HTMLElement} list
 */
export function picks(list) {
  const boxes = [...list.querySelectorAll("input")],
    most = Number(list.dataset.most);
  const show = () => {
    const full = boxes.filter((b) => b.checked).length >= most;
    boxes.forEach((b) => {
      b.disabled = full && !b.checked;
    });
  };
  list.addEventListener("change", show);
  show();
}
