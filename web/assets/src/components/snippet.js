/** x-data="snippet": the line in x-ref="line", to be put into another page, is copied by a press. */
export default () => ({
  words: "Copy it",
  able: Boolean(navigator.clipboard),
  async copy() {
    await navigator.clipboard.writeText(this.$refs.line.value);
    this.words = "Copied";
  },
});
