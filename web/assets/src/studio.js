// What is alive in the studio: Alpine's components, seen in the markup, and the sheet.
import Alpine from "@alpinejs/csp";
import chooser from "./components/chooser.js";
import dropin from "./components/dropin.js";
import live from "./components/live.js";
import map from "./components/map.js";
import product from "./components/product.js";
import rename from "./components/rename.js";
import snippet from "./components/snippet.js";
import stage from "./components/stage.js";
import { lookAtSheet, openSheet } from "./sheet.js";

for (const [name, component] of Object.entries({ chooser, dropin, live, map, product, rename, snippet, stage })) {
  Alpine.data(name, component);
}
Alpine.start();

const desk = document.getElementById("desk");
if (desk) openSheet(desk);
const frozen = /** @type {HTMLElement} */ (document.querySelector(".desk.frozen"));
if (frozen) lookAtSheet(frozen);
