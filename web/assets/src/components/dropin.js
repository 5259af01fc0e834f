/** x-data="dropin": a form whose file, in x-ref="file", is sent when it is chosen or dropped anywhere on the page. */
export default () => ({
  over: false,
  get words() {
    return this.over ? "Let it go here" : "A quiz from a file";
  },
  init() {
    addEventListener("dragover", (event) => {
      if (![...event.dataTransfer.items].some((i) => i.kind === "file")) return;
      event.preventDefault();
      this.over = true;
    });
    addEventListener("dragleave", (event) => {
      if (!event.relatedTarget) this.over = false;
    });
    addEventListener("drop", (event) => {
      if (!event.dataTransfer.files.length) return;
      event.preventDefault();
      this.$refs.file.files = event.dataTransfer.files;
      this.send();
    });
  },
  send() {
    this.$root.requestSubmit();
  },
});
