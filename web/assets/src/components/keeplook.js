/** x-data="keeplook": the look of this quiz is kept under the name that is typed, for others to wear. */
export default () => ({
  wrong: "",
  async keep(event) {
    const [, , , quiz] = location.pathname.split("/");
    const { flush, sending } = this.$store.sheet;
    flush();
    const answer = await fetch(`/studio/quizzes/${quiz}/look/keep`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ name: event.target.value }),
    }).catch(() => null);
    const said = await answer?.json().catch(() => null);
    this.wrong = answer?.ok ? "" : (said?.message ?? "This could not be kept just now. Try again in a moment.");
    if (answer?.ok) sending.patch([{ op: "add", path: "/look/kept", value: said.key }]);
  },
});
