/**
 * x-data="aims": cuts are placed so that the shares of a step's bands come as near as can be to
 * those aimed for, in its fields named "aim". The button's value is the step.
 */
export default () => ({
  place() {
    const { sending, flush } = this.$store.sheet;
    flush();
    const fields = this.$root.closest(".step").querySelectorAll("[name=aim]");
    sending.aim(
      this.$root.value,
      Array.from(fields, (field) => field.value),
    );
  },
});
