/**
 * x-data="many": lines, in x-ref="text", become questions; what they would become, in
 * x-ref="made", is shown by the server while they are written.
 */
export default () => ({
  count: 0,
  asked: 0,
  get empty() {
    return this.count === 0;
  },
  get words() {
    if (this.count === 0) return "Add them";
    return this.count === 1 ? "Add this question" : `Add these ${this.count} questions`;
  },
  async look() {
    const mine = ++this.asked;
    const at = `/studio/quizzes/${document.getElementById("desk").dataset.quiz}/lines`;
    const text = this.$refs.text.value;
    const answer = await fetch(at, { method: "POST", headers: { "Content-Type": "text/plain" }, body: text }).catch(
      () => null,
    );
    if (mine !== this.asked) return;
    if (!answer?.ok) {
      this.$refs.made.textContent = "This can't be read just now. What you wrote is still here.";
      return;
    }
    this.$refs.made.innerHTML = await answer.text();
    this.count = Number(answer.headers.get("Questions"));
  },
  take() {
    const { sending, flush } = this.$store.sheet;
    flush();
    sending.act({ do: "write", label: this.$refs.text.value, after: this.$root.dataset.after });
    this.$refs.text.value = "";
    this.count = 0;
    this.$refs.made.replaceChildren();
    this.$root.close();
  },
  close() {
    this.$root.close();
  },
});
