/** x-data="rename": a quiz in the list of quizzes is given another name. */
export default () => ({
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
});
