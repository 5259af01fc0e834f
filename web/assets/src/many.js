// Many questions at once: several lines that are pasted into the words of a question, or into
// the dialog for them, become questions.

/** Returns open, which shows the dialog for lines. */
export function handleMany() {
  const dialog = document.getElementById("many");

  // open shows what a text would become, behind a question where one is said.
  function open(text, after) {
    const field = dialog.querySelector("textarea");
    if (after) dialog.dataset.after = after;
    else delete dialog.dataset.after;
    dialog.showModal();
    if (!text) return;
    field.value = text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }

  document.addEventListener("paste", (event) => {
    const [, key] = /^\/questions\/([^/]+)\/label$/.exec(event.target.dataset?.path ?? "") ?? [];
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (!key || text.trim().split("\n").length < 2) return;
    event.preventDefault();
    open(text, key);
  });

  return { open };
}
