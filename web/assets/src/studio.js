// What is alive in the studio: Alpine's components, seen in the markup, and the sheet.
import Alpine from "@alpinejs/csp";
import aims from "./components/aims.js";
import brand from "./components/brand.js";
import chooser from "./components/chooser.js";
import days from "./components/days.js";
import dropin from "./components/dropin.js";
import faces from "./components/faces.js";
import framing from "./components/framing.js";
import keeplook from "./components/keeplook.js";
import leads from "./components/leads.js";
import live from "./components/live.js";
import many from "./components/many.js";
import map from "./components/map.js";
import product from "./components/product.js";
import reads from "./components/reads.js";
import rename from "./components/rename.js";
import rulefile from "./components/rulefile.js";
import snippet from "./components/snippet.js";
import stage from "./components/stage.js";
import typed from "./components/typed.js";
import unkept from "./components/unkept.js";
import walk from "./components/walk.js";
import zone from "./components/zone.js";
import { firstOf } from "./once.js";
import { lookAtSheet, openSheet } from "./sheet.js";

const components = {
  aims,
  brand,
  chooser,
  days,
  dropin,
  faces,
  framing,
  keeplook,
  leads,
  live,
  many,
  map,
  product,
  reads,
  rename,
  rulefile,
  snippet,
  stage,
  typed,
  unkept,
  walk,
  zone,
};
for (const [name, component] of Object.entries(components)) {
  Alpine.data(name, component);
}
Alpine.start();

document.addEventListener("submit", (event) => {
  const form = /** @type {HTMLFormElement} */ (event.target);
  if (!event.defaultPrevented && form.method === "post" && !firstOf(form)) event.preventDefault();
});

const desk = document.getElementById("desk");
if (desk) Object.entries(openSheet(desk)).forEach(([name, store]) => Alpine.store(name, store));
const frozen = /** @type {HTMLElement} */ (document.querySelector(".desk.frozen"));
if (frozen) lookAtSheet(frozen);
