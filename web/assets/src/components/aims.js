import { notice } from "../notice.js";

/**
 * x-data="aims": cuts are placed so that the shares of a step's bands come as near as can be to
 * those aimed for, in its fields named "aim"; what is left open shares the rest. The button's
 * value is the step.
 */
export default () => ({
  place() {
    const { sending, flush } = this.$store.sheet;
    flush();
    const typed = [...this.$root.closest(".step").querySelectorAll("[name=aim]")].map((f) =>
      f.value.trim() === "" ? null : Number(f.value.replace("%", "").replace(",", ".")),
    );
    if (typed.some((n) => n !== null && !(n >= 0 && n <= 100)) || typed.every((n) => n === null))
      return notice(
        "Type the shares that you aim for in percent, such as 20 for the hottest fifth. Bands that you leave open share the rest.",
      );
    const given = typed.reduce((sum, n) => sum + (n ?? 0), 0);
    const open = typed.filter((n) => n === null).length;
    if (given > 100.01 || (!open && Math.abs(given - 100) > 0.5))
      return notice(`The shares come to ${Math.round(given * 10) / 10} %. All bands together take 100 %.`);
    sending.aim(
      this.$root.value,
      typed.map((n) => (n ?? (100 - given) / open) / 100),
    );
  },
});
