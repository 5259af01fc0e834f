import { quiz } from "./quiz.js";
import { plain, say } from "./say.js";

/**
 * Places are found by name, or the nearest come first.
 *
 * @param {HTMLElement} tools
 */
export function places(tools) {
  const question = tools.closest("[data-question]"),
    find = tools.querySelector("[data-find]"),
    near = tools.querySelector("[data-near]");
  const labels = [...question.querySelectorAll(".places .answer")];
  find?.addEventListener("input", () => {
    const words = plain(find.value.trim());
    labels.forEach((l) => {
      l.hidden = !plain(l.textContent).includes(words) && !l.querySelector(":checked");
    });
  });
  near?.addEventListener("click", () => {
    near.disabled = true;
    navigator.geolocation.getCurrentPosition(
      ({ coords }) => {
        const to = new URL(quiz().action);
        to.searchParams.set("near", `${coords.latitude.toFixed(3)},${coords.longitude.toFixed(3)}`);
        location.assign(to);
      },
      () => {
        near.textContent = say("Where you are is not known: choose by name");
      },
      { timeout: 10000, maximumAge: 600000 },
    );
  });
}
