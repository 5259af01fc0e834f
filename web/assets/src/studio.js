import Alpine from "@alpinejs/csp";
import { handlePictures } from "./pictures.js";
import { openSheet } from "./sheet.js";

// Renaming a quiz in the list of quizzes.
Alpine.data("rename", () => ({
  open: false,
  get closed() {
    return !this.open;
  },
  show() {
    this.open = true;
    this.$nextTick(() => this.$refs.title.select());
  },
  close() {
    this.open = false;
  },
}));

Alpine.start();

// The picture of a product is put into its form.
const form = document.querySelector(".productform");
if (form)
  handlePictures({
    flush() {},
    sending: {
      patch([{ value }]) {
        form.elements.picture.value = value.source;
        form.elements.description.value = value.description;
        document
          .getElementById("product-picture")
          .replaceChildren(Object.assign(new Image(), { src: value.source, alt: value.description }));
      },
    },
  });

// The map is made larger and smaller in place; dragging pans it.
const map = document.querySelector(".mapbox");
if (map) {
  const svg = map.querySelector("svg"),
    width = svg.viewBox.baseVal.width,
    height = svg.viewBox.baseVal.height;
  let scale = 1;
  document.addEventListener("click", (event) => {
    const by = event.target.closest("[data-zoom]")?.dataset.zoom;
    if (!by) return;
    scale = Math.min(3, Math.max(0.25, scale * Number(by)));
    svg.setAttribute("width", width * scale);
    svg.setAttribute("height", height * scale);
  });
  document.addEventListener("change", (event) => {
    if (event.target.dataset.goto !== undefined) location.assign(event.target.value);
  });
  map.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || event.target.closest("a")) return;
    const { clientX: x, clientY: y } = event,
      left = map.scrollLeft,
      top = scrollY;
    const pan = (e) => {
      map.scrollLeft = left + x - e.clientX;
      scrollTo(scrollX, top + y - e.clientY);
    };
    map.setPointerCapture(event.pointerId);
    map.addEventListener("pointermove", pan);
    map.addEventListener("pointerup", () => map.removeEventListener("pointermove", pan), { once: true });
  });
}

const desk = document.getElementById("desk");
if (desk) openSheet(desk);

// A line to be put into another page is copied by a press.
for (const button of document.querySelectorAll("[data-copies]")) {
  button.hidden = !navigator.clipboard;
  button.addEventListener("click", async () => {
    await navigator.clipboard.writeText(document.querySelector("[data-copyable]").value);
    button.lastChild.textContent = "Copied";
  });
}
document.addEventListener("change", (event) => {
  if (event.target.dataset?.submits !== undefined) event.target.form.requestSubmit();
});
