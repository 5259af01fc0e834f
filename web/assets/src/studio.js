import Alpine from "@alpinejs/csp";
import { handlePictures } from "./pictures.js";
import { openSheet } from "./sheet.js";

// Renaming a quiz in the list of quizzes.
Alpine.data("rename", () => ({
  open: false,
  get closed() { return !this.open; },
  show() { this.open = true; this.$nextTick(() => this.$refs.title.select()); },
  close() { this.open = false; },
}));

Alpine.start();

// The picture of a product is put into its form.
const form = document.querySelector(".productform");
if (form) handlePictures({ flush() {}, sending: { patch([{ value }]) {
  form.elements.picture.value = value.source;
  form.elements.description.value = value.description;
  Object.assign(document.getElementById("product-picture"), { src: value.source, hidden: false });
} } });

const desk = document.getElementById("desk");
if (desk) openSheet(desk);
