import { ownWords, picks } from "./choices.js";
import { places } from "./places.js";
import { searched } from "./searched.js";
import { slider } from "./slider.js";

/**
 * Parts of questions that do more with a script.
 *
 * @param {Document | Element} within
 */
export function bringToLife(within) {
  within.querySelectorAll("[data-words]").forEach(ownWords);
  within.querySelectorAll("[data-most]").forEach(picks);
  within.querySelectorAll("select[data-search]").forEach(searched);
  within.querySelectorAll(".placetools").forEach(places);
  within.querySelectorAll("[data-slider]").forEach(slider);
}
