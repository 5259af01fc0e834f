import Alpine from "@alpinejs/csp";
import { openSheet } from "./sheet.js";

// Renaming a quiz in the list of quizzes.
Alpine.data("rename", () => ({
  open: false,
  get closed() { return !this.open; },
  show() { this.open = true; this.$nextTick(() => this.$refs.title.select()); },
  close() { this.open = false; },
}));

Alpine.start();

const desk = document.getElementById("desk");
if (desk) openSheet(desk);
