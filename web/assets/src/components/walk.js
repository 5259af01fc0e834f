/**
 * x-data="walk": responses are walked again by the server (data-run), which tells how far it has
 * come, a line each, and behind "done" what it came to. Stopping ends the work there, too.
 */
export default () => ({
  walking: true,
  told: "",
  done: 0,
  ending: new AbortController(),
  async init() {
    this.told = this.$root.querySelector("[x-text]").textContent;
    try {
      const answer = await fetch(this.$root.dataset.run, { signal: this.ending.signal });
      const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
      let text = "";
      for (let part = await reader.read(); !part.done; part = await reader.read()) {
        text += part.value;
        const behind = text.indexOf("done\n");
        if (behind < 0) this.tell(text.trim().split("\n").pop());
      }
      const made = text.slice(text.indexOf("done\n") + 5);
      if (!answer.ok || !text.includes("done\n")) throw new Error("it broke off");
      this.$refs.made.innerHTML = made;
      this.walking = false;
    } catch {
      this.told = this.ending.signal.aborted ? "Stopped." : "It broke off. Load the page again to try it once more.";
    }
  },
  tell(line) {
    this.done = Number(line) || this.done;
    this.told = `${this.done.toLocaleString("en")} of ${Number(this.$root.dataset.all).toLocaleString("en")} walked`;
  },
  stop() {
    this.ending.abort();
  },
  destroy() {
    this.ending.abort();
  },
});
