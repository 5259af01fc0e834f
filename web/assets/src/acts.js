// Buttons that change the structure of the document, or go somewhere in it.

/** act does something to what stands at a path: what is in data-act. */
export function handleActs({ sending, flush, goTo, move }) {
  document.addEventListener("click", (event) => {
    const jump = event.target.closest("[data-jump]");
    if (jump && goTo(jump.dataset.jump)) event.preventDefault();
    const button = event.target.closest("[data-act],[data-set],[data-patch],[data-weigh],[data-insert]");
    if (!button) return;
    flush();
    if (button.dataset.insert) return insert(button);
    if (button.dataset.weigh) {
      button.closest("[popover]")?.hidePopover();
      const { weigh, target, scale, by } = button.dataset;
      return sending.act({ do: "weigh", path: target, kind: weigh, scale, by });
    }
    if (button.dataset.patch) return sending.patch(JSON.parse(button.dataset.patch));
    if (button.dataset.set) return sending.change(button.dataset.set, JSON.parse(button.dataset.value));
    const item = button.closest("[data-item]")?.dataset.item;
    act(button.dataset.act, button.dataset.target ?? item, button);
  });

  function act(what, target, button) {
    switch (what) {
      case "undo":
      case "redo":
        return sending.walk(what);
      case "shortcuts":
        return document.getElementById("shortcuts").showModal();
      case "add":
        return sending.act({ do: "add", path: target, kind: button?.dataset.kind, before: button?.dataset.before });
      case "up":
      case "down":
        return move(target, what);
      default:
        return sending.act({ do: what, path: target });
    }
  }

  return act;
}

// What can be filled in stands once on the page, and is shown where it is asked for.
document.addEventListener(
  "toggle",
  (event) => {
    if (!event.target.matches?.("details.fills")) return;
    event.target.querySelector("div")?.remove();
    if (event.target.open)
      event.target.append(
        Object.assign(document.createElement("div"), { innerHTML: document.getElementById("part-fills").innerHTML }),
      );
  },
  true,
);

// insert puts a name into the text beside it.
function insert(button) {
  const text = button.closest("[data-fills],p").querySelector("textarea,input");
  text.setRangeText(button.dataset.insert, text.selectionStart, text.selectionEnd, "end");
  text.focus();
  text.dispatchEvent(new Event("input", { bubbles: true }));
}
