import { hearNews } from "../news.js";

/**
 * x-data="stage": a draft is walked in frames, x-ref "phone" and "desktop". Where they walk
 * together, one follows the other; what happens is told in x-ref="happens". What is changed
 * in another tab shows at once, and the answers stay.
 */
export default () => ({
  follows: /** @type {HTMLIFrameElement | null} */ (null), // a frame that is led, and leads not
  come: new Set(),
  get said() {
    return this.$root.dataset;
  },
  get frames() {
    return [this.$refs.phone, this.$refs.desktop].filter(Boolean);
  },
  init() {
    for (const frame of this.frames) {
      // Alpine's build for our policy listens to no frame
      frame.addEventListener("load", () => this.walked(frame));
      const { readyState, URL } = frame.contentDocument;
      if (readyState === "complete" && URL !== "about:blank") this.walked(frame);
    }
    let revision = Number(this.said.revision);
    hearNews(`${this.said.room}/news`, {
      stands: (news) => {
        if (news.revision === revision) return;
        revision = news.revision;
        this.all();
      },
      gone: () => location.reload(),
      refused() {},
    });
  },

  /** A page has come into a frame: the other one goes there, too. */
  walked(frame) {
    const page = frame.contentDocument;
    if (page) page.documentElement.style.colorScheme = this.said.scheme;
    const led = this.follows === frame;
    if (led) this.follows = null;
    else this.lead(frame);
    this.tell(frame);
    page?.addEventListener("change", () => setTimeout(() => this.tell(frame), 400)); // on a page of several questions
  },
  lead(frame) {
    const other = this.frames.find((f) => f !== frame);
    if (!other || this.said.other) return;
    const { pathname, search } = frame.contentWindow.location;
    if (!pathname.startsWith("/rehearsals/")) return;
    if (this.come.size < this.frames.length) return void this.come.add(frame); // each comes by itself at first
    this.follows = other;
    other.contentWindow.location.replace(pathname + search);
  },

  /** What happens is told of the walk that was gone on with last. */
  async tell(frame) {
    const walk = (this.said.other && frame === this.$refs.desktop && this.said.other) || this.said.walk;
    const mine = (this.asked = (this.asked ?? 0) + 1);
    const query = new URLSearchParams({ walk, view: this.said.view });
    const answer = await fetch(`${this.said.room}/rehearse/happens?${query}`).catch(() => null);
    if (answer?.ok && mine === this.asked) this.$refs.happens.innerHTML = await answer.text();
  },

  /** Everything is asked for again, with the answers that were given. */
  async all() {
    const answer = await fetch(location.href).catch(() => null);
    if (!answer?.ok) return;
    const fresh = new DOMParser().parseFromString(await answer.text(), "text/html");
    const below = fresh.querySelector("[x-ref=below]");
    if (below) this.$refs.below.replaceChildren(...below.childNodes);
    this.frames.forEach((f) => f.contentWindow.location.reload());
  },

  /** An answer is changed where it is told: the walk goes on from that question. */
  async answer(event) {
    const { name, value } = event.target;
    const walk = this.$refs.happens.querySelector("[name=walk]")?.value ?? this.said.walk;
    const body = new URLSearchParams({ walk, question: name, answer: value });
    const answer = await fetch(`${this.said.room}/rehearse/answer`, {
      method: "POST",
      headers: { Accept: "application/json" },
      body,
    }).catch(() => null);
    if (!answer?.ok) return;
    const { at } = await answer.json();
    this.frames[0].contentWindow.location.replace(at);
  },
  turn(event) {
    const link = event.target.closest("[data-turn]");
    if (!link) return;
    event.preventDefault();
    this.frames[0].contentWindow.location.replace(link.getAttribute("href"));
  },
});
