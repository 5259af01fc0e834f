/** x-data="framing": pages of one more address may show the quiz inside them; those that may, in data-frames. */
export default () => ({
  add() {
    const field = this.$root;
    const typed = field.value.trim();
    if (!typed) return;
    const origin = URL.canParse(typed) ? new URL(typed).origin : typed;
    field.value = "";
    const frames = [...JSON.parse(field.dataset.frames), origin];
    this.$store.sheet.sending.patch([{ op: "add", path: "/settings/frames", value: frames }]);
  },
});
