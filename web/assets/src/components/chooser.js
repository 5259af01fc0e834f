/** x-data="chooser": a form whose choices are answered at once. */
export default () => ({
  send() {
    this.$root.requestSubmit();
  },
});
