import { alerting } from "../elements.js";

/**
 * x-data="leads": the room of leads. Its links and forms are those of a page; here the page that
 * comes is put in the place of what is there, so that the list stays where it was scrolled to. The
 * keyboard goes through the list, and leads that come appear by themselves (data-stamp).
 */
const newsEach = 5000; // ms

export default () => ({
  said: "Pick all",
  picked: false,
  asking: 0,
  timer: 0,
  init() {
    this.$nextTick(() => {
      this.tell();
      const note = this.$refs.note;
      if (note && !note.value) note.value = sessionStorage.getItem(this.noted()) ?? "";
    });
    this.timer = window.setInterval(() => this.look(), newsEach);
  },
  destroy() {
    clearInterval(this.timer);
  },

  // The list.
  rows() {
    return /** @type {HTMLTableRowElement[]} */ ([...(this.$refs.rows?.rows ?? [])]);
  },
  picks() {
    return this.rows().map((row) => /** @type {HTMLInputElement} */ (row.querySelector("[name=ids]")));
  },
  tell() {
    const n = this.picks().filter((pick) => pick.checked).length;
    this.picked = n > 0 || !!this.$refs.all?.checked;
    this.said = this.$refs.all?.checked ? "All of them" : n ? `${n} picked` : "Pick all";
  },
  pickEvery() {
    for (const pick of this.picks()) pick.checked = this.$el.checked;
    this.tell();
  },
  keepForm() {
    this.$el.form.requestSubmit();
  },

  // A note that is being written stays with its lead until it is kept.
  noted() {
    return `note of lead ${this.$refs.note.dataset.lead}`;
  },
  keepNote() {
    sessionStorage.setItem(this.noted(), this.$refs.note.value);
  },
  /** What was sent is kept; what was typed since stays to be. */
  keptNote({ name, sent }) {
    const now = sessionStorage.getItem(name) ?? "";
    const since = now.startsWith(sent) ? now.slice(sent.length).trimStart() : now;
    if (since) sessionStorage.setItem(name, since);
    else sessionStorage.removeItem(name);
  },

  // Pages in the place of what is there.
  async go(address, options = {}) {
    const mine = ++this.asking;
    const answer = await fetch(address, options).catch(() => null);
    if (answer?.ok && options.note) this.keptNote(options.note);
    if (mine !== this.asking) return;
    if (!answer || answer.status >= 500) {
      if (options.method) this.tellFailed();
      if (this.$refs.note?.value) this.keepNote();
      return;
    }
    if (new URL(answer.url).pathname === "/studio/sign-in") return void location.assign(answer.url);
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const fresh = page.getElementById("main");
    if (!fresh || mine !== this.asking || (options.calm && this.busy())) return;
    const picked = options.method ? [] : this.picks().flatMap((pick) => (pick.checked ? pick.value : []));
    const focused = document.activeElement?.closest("[data-digit]")?.getAttribute("data-digit");
    const noting = document.activeElement === this.$refs.note && this.noted();
    document.querySelector(".flash")?.remove();
    const flash = page.querySelector(".flash");
    if (flash) document.getElementById("main").before(flash);
    history.replaceState(null, "", answer.url);
    document.getElementById("main").replaceChildren(...fresh.childNodes);
    for (const id of picked) {
      const pick = /** @type {HTMLInputElement} */ (document.querySelector(`[name=ids][form=many][value="${id}"]`));
      if (pick) pick.checked = true;
    }
    document.querySelector(".people [aria-current]")?.scrollIntoView({ block: "nearest" });
    if (focused) /** @type {HTMLElement} */ (document.querySelector(`[data-digit="${focused}"]`))?.focus();
    const note = /** @type {HTMLTextAreaElement} */ (document.querySelector("textarea[name=note]"));
    if (!note || noting !== `note of lead ${note.dataset.lead}`) return;
    note.value ||= sessionStorage.getItem(noting) ?? "";
    note.focus();
  },
  tellFailed() {
    const textContent = "This could not be kept just now. Try again in a moment.";
    document.querySelector(".flash")?.remove();
    document.getElementById("main").before(alerting("div", { className: "flash", textContent }));
  },
  /** @param {SubmitEvent} event */
  send(event) {
    const form = /** @type {HTMLFormElement} */ (event.target);
    if (form.method !== "post") return;
    event.preventDefault();
    const fields = new URLSearchParams(/** @type {any} */ (new FormData(form, event.submitter)));
    if (fields.has("note")) this.keepNote(); // until it is known to be kept
    const note = fields.has("note") && { name: this.noted(), sent: this.$refs.note.value };
    this.go(form.action, { method: "POST", body: fields, note });
  },
  /** Whoever has come or changed is shown, unless something is being typed, chosen or picked. */
  async look() {
    if (document.hidden || this.busy()) return;
    const answer = await fetch("/studio/leads/news", { headers: { Accept: "application/json" } }).catch(() => null);
    if (!answer?.ok) return;
    const { stamp } = await answer.json();
    if (String(stamp) !== this.$root.dataset.stamp && !this.busy() && this.$root.isConnected)
      this.go(location.href, { calm: true });
  },
  busy() {
    const typed = [...this.$root.querySelectorAll("input[type=date],input[type=search]")].some(
      (field) => field.value !== field.defaultValue,
    );
    const writing = document.activeElement?.matches("textarea,input:not([type=checkbox]),select");
    return typed || writing || this.picks().some((pick) => pick.checked) || !!this.$root.querySelector(".facet[open]");
  },

  // The keyboard.
  /** @param {KeyboardEvent} event */
  key(event) {
    const at = /** @type {HTMLElement} */ (event.target);
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Escape" && at.matches("input,textarea")) return at.blur();
    if (at.matches("input:not([type=checkbox]),textarea,select")) return;
    const rows = this.rows();
    const now = rows.findIndex((row) => row.hasAttribute("aria-current"));
    const does = {
      j: () => (rows[now + 1] ? this.see(rows[now + 1]) : this.further()),
      k: () => this.see(rows[Math.max(now - 1, 0)]),
      x: () => this.pick(rows[now]),
      n: () => this.$refs.note?.focus(),
      "/": () => this.$refs.search?.focus(),
      u: () => this.takeBack(),
      "?": () => this.help(),
    }[event.key];
    const state = /^[1-9]$/.test(event.key) && this.$root.querySelector(`[data-digit="${event.key}"]`);
    if (!does && !state) return;
    event.preventDefault();
    if (does) does();
    else state.click();
  },
  see(row) {
    const link = row?.querySelector(".who a");
    if (link) this.go(link.href);
  },
  /** Behind the last of a page comes the first of the next. */
  async further() {
    const link = /** @type {HTMLAnchorElement} */ (this.$root.querySelector("a[rel=next]"));
    if (!link) return;
    await this.go(link.href);
    const first = /** @type {HTMLAnchorElement} */ (document.querySelector(".people .who a"));
    if (first) location.replace(first.href);
  },
  pick(row) {
    const pick = row?.querySelector("[name=ids]");
    if (pick) pick.checked = !pick.checked;
    this.tell();
  },
  help() {
    const keys = this.$refs.keys;
    if (!keys) return;
    keys.open = true;
    keys.scrollIntoView({ block: "nearest" });
    keys.querySelector("summary").focus({ preventScroll: true });
  },
  takeBack() {
    const form = /** @type {HTMLFormElement} */ (document.querySelector(".flash form"));
    if (form) this.go(form.action, { method: "POST" });
  },
});
