/** x-data="chooser": a form, or a field of one, whose choice is answered at once. */
export default () => ({
  send() {
    this.$root.closest("form").requestSubmit();
  },
  /** Goes to the address that is chosen. */
  go() {
    location.assign(this.$el.value);
  },
});
