/** x-data="typed": a form that asks before somebody leaves what they typed into it and did not send. */
export default () => ({
  typed: false,
  init() {
    this.$root.addEventListener("input", () => (this.typed = true));
    this.$root.addEventListener("submit", () => (this.typed = false));
    addEventListener("beforeunload", (event) => {
      if (this.typed) event.preventDefault();
    });
  },
});
