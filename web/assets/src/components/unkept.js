import { shelfOf } from "../left.js";

/** x-data="unkept", data-quiz: says, where a quiz is released, that the sheet holds what was refused. */
export default () => ({
  init() {
    try {
      const left = JSON.parse(localStorage.getItem(shelfOf(this.$el.dataset.quiz)) ?? "[]");
      this.$el.hidden = !left.some(({ refused }) => refused);
    } catch {
      /* a browser that keeps nothing has nothing to tell */
    }
  },
});
