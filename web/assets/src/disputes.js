// A sheet that another tab, or somebody else, has overtaken.
import { alerting, button, element } from "./elements.js";
import { fieldAt, grow } from "./fields.js";
import { gone, notice } from "./notice.js";
import { keptIn, valueOf } from "./values.js";

/** Returns fellBehind, and choose, which puts a text that both have changed to the choice. */
export function handleDisputes({ sending, applied, settle }) {
  // fellBehind brings a tab up to date that another one has overtaken. A text
  // that both have changed is put to the choice. Late tells that an act came too late.
  function fellBehind(update, waiting, late) {
    const before = new Map(waiting.map((w) => [w.path, fieldAt(w.path) && keptIn(fieldAt(w.path))]));
    const mine = new Map(waiting.map((w) => [w.path, w.value]));
    applied(update);
    const why = update.message ?? "This quiz was changed in another tab or by somebody else.";
    if (late) notice(`${why} The page shows it now; what you typed is still here. Do again what you did last.`);
    for (const path of mine.keys()) {
      const now = update.values(path);
      const field = fieldAt(path);
      if (!field) {
        sending.forget(path);
        gone(mine.get(path));
      } else if (
        now !== undefined &&
        field.type !== "checkbox" &&
        JSON.stringify(valueOf(field, now)) === JSON.stringify(mine.get(path))
      ) {
        sending.forget(path); // it is there already
        settle(field);
      } else if (now === before.get(path) || now === undefined) sending.again(path);
      else choose(field, path, mine.get(path), now);
    }
  }

  function choose(field, path, mine, theirs) {
    const box = alerting("div", { className: "dispute" });
    const say = (tag, text) => box.appendChild(element(tag, { textContent: text }));
    say("p", "This was changed elsewhere in the meantime. There it is now:");
    say("blockquote", theirs || "(empty)");
    const ways = {
      "Put mine in": () => sending.again(path),
      "Take theirs"() {
        sending.forget(path);
        field.value = field.dataset.theirs ?? theirs;
        field.defaultValue = field.value;
        grow(field);
      },
    };
    for (const [words, go] of Object.entries(ways))
      box.append(
        button(words, () => {
          box.remove();
          go();
        }),
      );
    (field.closest(".cell") ?? field).after(box);
    sending.hold(path);
  }

  return { fellBehind, choose };
}
