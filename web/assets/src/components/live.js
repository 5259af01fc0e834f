/**
 * x-data="live": what the choices of the form in x-ref="form" make, in x-ref="made", is made
 * anew by the server while they are typed; the fields stay as they are.
 */
export default () => ({
  asked: 0,
  async make() {
    const mine = ++this.asked;
    const choices = new URLSearchParams(/** @type {any} */ (new FormData(this.$refs.form)));
    const answer = await fetch(`${location.pathname}?${choices}`).catch(() => null);
    if (!answer?.ok || mine !== this.asked) return;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const made = page.querySelector(`#${this.$root.id} [x-ref="made"]`);
    if (made && mine === this.asked) this.$refs.made.innerHTML = made.innerHTML;
  },
});
