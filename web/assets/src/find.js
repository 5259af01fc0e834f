// Finding in the quiz, and questions of other quizzes.

export function handleFinding({ sending, flush, goTo }) {
  const value = (f) => (f.tagName === "SELECT" ? "" : f.value.toLowerCase());
  const fieldsOf = (part) => [...part.querySelectorAll("textarea[data-path],input[data-path]:not([type=checkbox])")];

  // find leaves the parts in the outline that hold the words, and returns the first field that does.
  function find(words) {
    let first = null;
    for (const link of document.querySelectorAll("#part-outline a")) {
      const part =
        document.getElementById(link.hash.slice(1))?.closest(".part") ?? document.getElementById(link.hash.slice(1));
      const hit = words && part ? fieldsOf(part).find((f) => value(f).includes(words)) : null;
      link.parentElement.hidden = Boolean(words) && !hit;
      first ??= hit;
    }
    return first;
  }

  document.addEventListener("input", (event) => {
    if (event.target.id === "find") {
      event.target.value = event.target.value.replace(/^\//, ""); // the key that led here
      find(event.target.value.trim().toLowerCase());
    }
    if (event.target.id === "reuse-words") look(event.target.value);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "/" && !event.target.matches?.("input,textarea,select")) {
      event.preventDefault();
      document.getElementById("find").focus();
    } else if (event.target.id === "find" && event.key === "Enter") {
      event.preventDefault();
      const field = find(event.target.value.trim().toLowerCase());
      if (field) goTo(field.dataset.path);
    } else if (event.target.id === "find" && event.key === "Escape") {
      event.target.value = "";
      find("");
    }
    if (event.key === "Escape") leaveOutline();
  });

  // Where the page is narrow, the outline is seen while it has the focus.
  const outlined = () => document.activeElement?.closest("#part-outline");
  function leaveOutline() {
    if (outlined()) document.activeElement.blur();
  }
  document.addEventListener("click", (event) => {
    if (event.target.closest("#part-outline a")) leaveOutline();
  });

  // ---- questions of other quizzes -------------------------------------------

  const dialog = document.getElementById("reuse"),
    list = document.getElementById("reuse-list");
  let asked = 0;
  async function look(words) {
    const mine = ++asked;
    const answer = await fetch(
      `/studio/quizzes/${document.getElementById("desk").dataset.quiz}/questions?q=${encodeURIComponent(words)}`,
    ).catch(() => null);
    if (mine === asked && answer?.ok) list.innerHTML = await answer.text();
    else if (mine === asked) list.textContent = "The questions can't be looked up just now.";
  }
  document.addEventListener("click", (event) => {
    const chosen = event.target.closest?.("[data-reuse]");
    if (!chosen) return;
    dialog.close();
    flush();
    sending.reuse(chosen.dataset.reuse);
  });

  return {
    outline: { open: () => document.getElementById("part-outline").focus() },
    reuse: {
      open() {
        dialog.showModal();
        look(document.getElementById("reuse-words").value);
      },
    },
  };
}
