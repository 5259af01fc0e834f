/**
 * x-data="reads", data-at the place of its colours: while a colour is picked, how colours read
 * is told in x-ref="reads"; it is kept when the picker is left.
 */
export default () => ({
  asked: 0,
  async make() {
    const mine = ++this.asked;
    const query = new URLSearchParams({ at: this.$root.dataset.at });
    for (const picker of this.$root.querySelectorAll("input[name]")) query.set(picker.name.toLowerCase(), picker.value);
    const [, , , quiz] = location.pathname.split("/");
    const answer = await fetch(`/studio/quizzes/${quiz}/look/reads?${query}`).catch(() => null);
    if (answer?.ok && mine === this.asked) this.$refs.reads.innerHTML = await answer.text();
  },

  /** What was picked is written into the field beside it, which is kept. */
  take(event) {
    const field = event.target.closest(".colour").querySelector(".hex");
    field.value = event.target.value;
    field.dispatchEvent(new Event("change", { bubbles: true }));
  },
});
