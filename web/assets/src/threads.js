// The threads of the path margin.

/**
 * Pointing at an answer lights its thread all the way, along the trunk too where it keeps
 * to it; pointing at a question or an outcome, all that lead there as well.
 */
export function lightThreads() {
  const light = (event) => {
    const item = event.target.closest?.("[data-item]")?.dataset.item;
    document.querySelectorAll(".th.lit").forEach((t) => t.classList.remove("lit"));
    if (!item) return;
    const path = CSS.escape(item),
      mine = [...document.querySelectorAll(`.th[data-thread="${path}"],.th[data-end="${path}"]`)];
    const question = item.match(/^(\/questions\/[^/]+)\/answers\//)?.[1];
    if (question && !mine.some((t) => t.dataset.end))
      mine.push(...document.querySelectorAll(`.th[data-thread="${CSS.escape(question)}"]`));
    mine.forEach((t) => t.classList.add("lit"));
  };
  document.addEventListener("pointerover", light);
  document.addEventListener("focusin", light);
}
