/**
 * x-data="faces": a page of the draft on a phone and on a desktop, while the fold is open. It
 * is asked for again when the draft has changed; x-ref="page" lists the pages there are.
 */
export default () => ({
  soon: 0,
  here: false,
  get frames() {
    return [this.$refs.phone, this.$refs.desktop];
  },
  init() {
    for (const frame of this.frames) frame.addEventListener("load", () => this.light());
    // Nothing is asked for before one comes here.
    new IntersectionObserver(([seen], watch) => {
      if (!seen.isIntersecting) return;
      watch.disconnect();
      this.here = true;
      this.unfold();
    }).observe(this.$root);
  },
  async unfold() {
    if (!this.here || !this.$refs.fold.open) return;
    await this.fill();
    this.show();
  },

  /** The pages are listed, and the one that is shown stays chosen. */
  async fill() {
    const list = this.$refs.page;
    const answer = await fetch(this.$root.dataset.pages).catch(() => null);
    if (!answer?.ok) return;
    const shown = list.value;
    list.innerHTML = await answer.text();
    if ([...list.options].some((o) => o.value === shown)) list.value = shown;
  },
  show() {
    const page = this.$root.dataset.showing + this.$refs.page.value;
    for (const frame of this.frames) {
      const there = frame.contentWindow.location;
      if (there.pathname === page) there.reload();
      else there.replace(page);
    }
  },
  again() {
    if (!this.here || !this.$refs.fold.open) return;
    clearTimeout(this.soon);
    this.soon = setTimeout(() => this.show(), 60);
  },

  /** Light or dark, where the look leaves that to the device. */
  light() {
    for (const frame of this.frames) {
      const page = frame.contentDocument?.documentElement;
      if (!page) continue;
      page.style.colorScheme = "";
      if (getComputedStyle(page).colorScheme === "light dark") page.style.colorScheme = this.$refs.scheme.value;
    }
  },
});
