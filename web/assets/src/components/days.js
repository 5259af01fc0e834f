/**
 * x-data="days": a strip of days with two handles, x-ref="low" and "high", counted in bars of so many days
 * (data-unit) from the first day (data-first). Its form is sent with the days between when one has been moved.
 */
export default () => ({
  words: "",
  init() {
    this.words = this.$root.querySelector("output").textContent;
    for (const handle of this.handles()) this.say(handle);
    this.take();
  },
  /** The handles, the earlier first. */
  handles() {
    return [this.$refs.low, this.$refs.high].sort((a, b) => a.valueAsNumber - b.valueAsNumber);
  },
  /** The first day of a handle's bar, or its last. */
  day(handle, last) {
    const unit = Number(this.$root.dataset.unit);
    const at = new Date(this.$root.dataset.first);
    at.setUTCDate(at.getUTCDate() + handle.valueAsNumber * unit + (last ? unit - 1 : 0));
    return at.toISOString().slice(0, 10);
  },
  say(handle) {
    handle.setAttribute("aria-valuetext", this.day(handle, handle === this.handles()[1]));
  },
  move() {
    const [from, to] = this.handles();
    this.say(this.$el);
    this.words = `${this.day(from, false)} to ${this.day(to, true)}`;
    this.take();
  },
  /** A press on a day chooses that alone. @param {MouseEvent} event */
  press(event) {
    const { left, width } = this.$el.getBoundingClientRect();
    const { low, high } = this.$refs;
    low.value = high.value = String(Math.floor(((event.clientX - left) / width) * (Number(low.max) + 1)));
    this.send();
  },
  /** Puts the days into the form. */
  take() {
    const [from, to] = this.handles();
    this.$refs.from.value = from.value === from.min ? "" : this.day(from, false);
    this.$refs.to.value = to.value === to.max ? "" : this.day(to, true);
  },
  send() {
    this.take();
    this.$root.requestSubmit();
  },
});
