/**
 * A rating is drawn along: a slider over the points, which keep their room and the choice. Until
 * it is touched nothing is chosen.
 *
 * @param {HTMLElement} points
 */
export function slider(points) {
  const all = [...points.querySelectorAll("input")];
  const box = Object.assign(document.createElement("div"), { className: "slider" });
  const range = Object.assign(document.createElement("input"), { type: "range", min: 0, max: all.length - 1, step: 1 });
  const said = document.createElement("output");
  const group = points.closest("fieldset");
  for (const name of ["aria-labelledby", "aria-describedby"])
    if (group.hasAttribute(name)) range.setAttribute(name, group.getAttribute(name));
  const show = (at) => {
    box.classList.toggle("unset", at < 0);
    said.textContent = at < 0 ? "–" : all[at].value;
    range.setAttribute("aria-valuetext", at < 0 ? "–" : all[at].value);
  };
  const take = () => {
    const point = all[range.valueAsNumber];
    show(range.valueAsNumber);
    if (point.checked) return;
    point.checked = true;
    point.dispatchEvent(new Event("change", { bubbles: true }));
  };
  const chosen = all.findIndex((p) => p.checked);
  range.valueAsNumber = chosen < 0 ? Math.floor(all.length / 2) : chosen;
  range.addEventListener("input", take);
  range.addEventListener("click", take); // the middle, too, is chosen by a press
  range.addEventListener("keydown", (event) => event.key === " " && take());
  show(chosen);
  box.append(range, said);
  points.classList.add("under");
  points.after(box);
}
