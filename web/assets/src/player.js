// The respondent's pages work without this: it only saves taps and keys.
const quiz = document.querySelector("form.quiz");
const questions = () => [...document.querySelectorAll("[data-question]")];

// What is said here, in the language of the page where that is another.
const said = JSON.parse(document.body?.dataset.said ?? "{}");
const say = (english) => said[english] ?? english;

// A double click sends a form once. Without a connection the answers wait on the page.
document.addEventListener("submit", (event) => {
  const sent = /** @type {HTMLFormElement} */ (event.target);
  if (sent.dataset.sent) return event.preventDefault();
  if (!navigator.onLine) {
    event.preventDefault();
    return waitFor(sent, event.submitter);
  }
  sent.dataset.sent = "yes";
  setTimeout(() => delete sent.dataset.sent, 8000);
  if (sent.elements.namedItem("ahead") && event.submitter?.getAttribute("value") === "on") {
    event.preventDefault();
    goAhead(sent);
  }
});
addEventListener("pageshow", () => document.querySelectorAll("form").forEach((f) => delete f.dataset.sent));

// What comes next is fetched once this page is whole and has been drawn, so that it holds nothing
// up: pictures, and the page itself where it is the same whatever is answered. The form says so then, with the stamp
// of the passage that it was fetched for. A page that was fetched has its stamp behind its address.
const fetched = location.pathname.startsWith("/p/") && new URLSearchParams(location.search).has("ahead");
const stamp = fetched ? location.hash.slice(1) : quiz?.dataset.stamp;
if (fetched) history.replaceState(history.state, "", location.pathname);
const fetchAhead = (as, href, onload) =>
  document.head.append(Object.assign(document.createElement("link"), { rel: "prefetch", as, href, onload }));
function fetchNext() {
  for (const meta of document.querySelectorAll("meta[name=ahead]"))
    fetchAhead("image", meta.getAttribute("content"), null);
  if (quiz?.dataset.next && stamp)
    fetchAhead("document", quiz.dataset.next + stamp, () =>
      quiz.append(Object.assign(document.createElement("input"), { type: "hidden", name: "ahead", value: stamp })),
    );
}
const glance = 400; // ms that a page is looked at before anybody answers
addEventListener("load", () => setTimeout(fetchNext, glance));

// goAhead sends the answers and goes to the page that is here already. Where the server takes
// nothing, or has something to say, the form goes the usual way.
async function goAhead(form) {
  try {
    const headers = { Accept: "text/plain" };
    const body = new URLSearchParams(/** @type {any} */ (new FormData(form)));
    const answer = await fetch(form.action, { method: "POST", headers, body, redirect: "manual" });
    const told = answer.ok && answer.headers.get("Content-Type")?.startsWith("text/plain");
    if (told) return location.assign(await answer.text());
  } catch {
    /* told by the browser when it fails once more */
  }
  form.querySelector("[name=ahead]").remove();
  form.submit();
}

// A result is passed on by the device's own means, where there are some, and printed.
document.addEventListener("click", (event) => {
  const link = /** @type {HTMLAnchorElement | null} */ (event.target.closest?.("[data-share]"));
  if (!link || !navigator.share || link.pathname.startsWith("/rehearsals/")) return;
  event.preventDefault();
  navigator.share({ title: link.dataset.share, url: link.href }).catch(() => {});
});
for (const button of document.querySelectorAll("[data-print]")) button.addEventListener("click", () => print());

// What is pressed of a landing is counted, by this application alone.
for (const type of ["click", "auxclick"])
  document.addEventListener(type, (event) => {
    const to = event.target.closest?.("[data-press]")?.dataset.press;
    if (to) navigator.sendBeacon(to, new URLSearchParams());
  });

function waitFor(form, button) {
  if (form.querySelector(".offline")) return;
  const note = Object.assign(document.createElement("p"), {
    className: "wrong offline",
    textContent: say(
      "There is no connection just now. Your answers are still here, and go on their way when it is back.",
    ),
  });
  note.setAttribute("role", "alert");
  form.querySelector(".nav").before(note);
  addEventListener(
    "online",
    () => {
      note.remove();
      form.requestSubmit(button);
    },
    { once: true },
  );
}

const goOn = () => quiz.requestSubmit(quiz.querySelector("[name=go][value=on]"));

// ---- one question on its page ------------------------------------------------

// A tap on an answer goes on, unless there is more to say; keys that walk through the
// answers do not. The number keys choose, Enter goes on.
if (quiz && questions().length === 1) {
  const one = questions()[0];
  const moves = quiz.dataset.taps !== undefined && !["several", "grid"].includes(one.dataset.kind);
  one.addEventListener("click", (event) => {
    const choice = event.target;
    if (
      moves &&
      /** @type {MouseEvent} */ (event).detail > 0 &&
      choice.matches?.("input[type=radio]") &&
      !choice.dataset.words
    )
      setTimeout(goOn, 180);
  });
  document.addEventListener("keydown", (event) => {
    if (
      event.ctrlKey ||
      event.metaKey ||
      event.altKey ||
      event.target.matches("input:not([type=radio],[type=checkbox]),textarea,select,summary")
    )
      return;
    const choices = one.querySelectorAll("input[type=radio],input[type=checkbox]");
    const choice =
      one.dataset.kind === "rating" || one.dataset.kind === "stars"
        ? [...choices].find((c) => c.value === event.key)
        : choices[Number(event.key) - 1];
    if (/^[0-9]$/.test(event.key) && choice) {
      choice.checked = choice.type === "radio" || !choice.checked;
      choice.focus();
      choice.dispatchEvent(new Event("change", { bubbles: true }));
    } else if (event.key === "Enter" && !event.target.closest("button,a,form")) goOn();
  });
}

// ---- several questions on a page -----------------------------------------------

// Answers bring up questions and take them away, in their place and without moving what
// is looked at. What has changed is read out.
if (quiz?.dataset.grows !== undefined) {
  let asking = null,
    again = false;
  const look = async () => {
    if (asking) return (again = true);
    const data = new URLSearchParams(/** @type {any} */ (new FormData(/** @type {HTMLFormElement} */ (quiz))));
    data.set("go", "look");
    asking = fetch(quiz.getAttribute("action") || location.href, { method: "POST", body: data });
    try {
      const answer = await asking;
      const page = new DOMParser().parseFromString(await answer.text(), "text/html");
      if (answer.ok) show(page);
    } catch {
      /* the questions come up when the form is sent */
    }
    asking = null;
    if (again) {
      again = false;
      look();
    }
  };
  const show = (page) => {
    const fresh = [...page.querySelectorAll("#questions > *")],
      here = document.getElementById("questions");
    const name = (el) => el.id || el.textContent;
    const stays = new Map([...here.children].map((el) => [name(el), el]));
    const said = [];
    for (const [id, el] of stays) {
      if (fresh.some((f) => name(f) === id)) continue;
      if (el.dataset.question) said.push(say("Not asked any more:") + " " + el.querySelector("h2").textContent);
      el.remove();
    }
    fresh.forEach((f, i) => {
      const there = stays.get(name(f));
      const el = there ?? document.importNode(f, true);
      if (here.children[i] !== el) here.insertBefore(el, here.children[i] ?? null);
      if (!there && f.dataset.question) said.push(say("Asked further down:") + " " + f.querySelector("h2").textContent);
      if (!there) bringToLife(el);
    });
    if (said.length) document.getElementById("news").textContent = said.join(". ");
    const action = page.querySelector("form.quiz").getAttribute("action");
    if (action) quiz.setAttribute("action", action);
  };
  quiz.addEventListener("change", look);
}

// ---- parts of questions ----------------------------------------------------------

function bringToLife(within) {
  within.querySelectorAll("[data-words]").forEach(ownWords);
  within.querySelectorAll("[data-most]").forEach(picks);
  within.querySelectorAll("select[data-search]").forEach(searched);
  within.querySelectorAll(".placetools").forEach(places);
  within.querySelectorAll("[data-slider]").forEach(slider);
}

// The field for own words, which shows with the answer that asks for them, is the next to type into.
function ownWords(choice) {
  choice.addEventListener("change", () => {
    if (choice.checked) document.getElementById(choice.dataset.words).querySelector("input").focus();
  });
}

// What can't be chosen beside the others any more is off until one of them is taken back.
function picks(list) {
  const boxes = [...list.querySelectorAll("input")],
    most = Number(list.dataset.most);
  const show = () => {
    const full = boxes.filter((b) => b.checked).length >= most;
    boxes.forEach((b) => {
      b.disabled = full && !b.checked;
    });
  };
  list.addEventListener("change", show);
  show();
}

// A rating is drawn along: a slider over the points, which keep their room and the choice. Until
// it is touched nothing is chosen.
function slider(points) {
  const all = [...points.querySelectorAll("input")];
  const box = Object.assign(document.createElement("div"), { className: "slider" });
  const range = Object.assign(document.createElement("input"), { type: "range", min: 0, max: all.length - 1, step: 1 });
  const said = document.createElement("output");
  const group = points.closest("fieldset");
  for (const name of ["aria-labelledby", "aria-describedby"])
    if (group.hasAttribute(name)) range.setAttribute(name, group.getAttribute(name));
  const show = (at) => {
    box.classList.toggle("unset", at < 0);
    said.textContent = at < 0 ? "–" : all[at].value;
    range.setAttribute("aria-valuetext", at < 0 ? "–" : all[at].value);
  };
  const take = () => {
    const point = all[range.valueAsNumber];
    show(range.valueAsNumber);
    if (point.checked) return;
    point.checked = true;
    point.dispatchEvent(new Event("change", { bubbles: true }));
  };
  const chosen = all.findIndex((p) => p.checked);
  range.valueAsNumber = chosen < 0 ? Math.floor(all.length / 2) : chosen;
  range.addEventListener("input", take);
  range.addEventListener("click", take); // the middle, too, is chosen by a press
  range.addEventListener("keydown", (event) => event.key === " " && take());
  show(chosen);
  box.append(range, said);
  points.classList.add("under");
  points.after(box);
}

// A long list is searched by typing: a combobox over the drop-down, which keeps the choice.
function searched(select) {
  const box = document.createElement("div"),
    field = document.createElement("input"),
    list = document.createElement("ul");
  const options = [...select.options].filter((o) => o.value);
  box.className = "searched";
  Object.assign(field, {
    className: "field",
    type: "text",
    autocomplete: "off",
    value: select.selectedOptions[0]?.text ?? "",
    placeholder: `Type to find one of ${options.length}`,
  });
  Object.assign(list, { id: `list-${select.name}`, hidden: true });
  list.setAttribute("role", "listbox");
  const set = (el, values) => Object.entries(values).forEach(([k, v]) => el.setAttribute(k, v));
  set(field, {
    role: "combobox",
    "aria-expanded": "false",
    "aria-controls": list.id,
    "aria-autocomplete": "list",
    "aria-labelledby": select.getAttribute("aria-labelledby"),
  });
  set(list, { "aria-labelledby": select.getAttribute("aria-labelledby") });
  let shown = [],
    at = -1;
  const show = (open) => {
    const words = field.value.trim().toLowerCase(),
      chosen = select.selectedOptions[0]?.text;
    shown = open ? options.filter((o) => field.value === chosen || o.text.toLowerCase().includes(words)) : [];
    at = shown.length && words && field.value !== chosen ? 0 : -1;
    list.replaceChildren(
      ...(shown.length || !open
        ? shown.map((o, i) => {
            const li = Object.assign(document.createElement("li"), { id: `${list.id}-${i}`, textContent: o.text });
            set(li, { role: "option", "aria-selected": String(o.selected) });
            li.addEventListener("pointerdown", (event) => event.preventDefault());
            li.addEventListener("click", () => take(o));
            return li;
          })
        : [
            Object.assign(document.createElement("li"), {
              className: "none",
              textContent: say("None of them holds these words."),
            }),
          ]),
    );
    list.hidden = !open;
    field.setAttribute("aria-expanded", String(open));
    mark();
  };
  const mark = () => {
    [...list.children].forEach((li, i) => li.classList.toggle("at", i === at));
    if (at < 0) return field.removeAttribute("aria-activedescendant");
    field.setAttribute("aria-activedescendant", list.children[at].id);
    list.children[at].scrollIntoView({ block: "nearest" });
  };
  const take = (option) => {
    select.value = option?.value ?? "";
    field.value = option?.text ?? "";
    show(false);
    select.dispatchEvent(new Event("change", { bubbles: true }));
  };
  field.addEventListener("input", () => {
    if (!field.value) take(null);
    show(true);
  });
  field.addEventListener("click", () => show(true));
  field.addEventListener("keydown", (event) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by) {
      event.preventDefault();
      if (list.hidden) show(true);
      at = Math.max(0, Math.min(shown.length - 1, at + by));
      mark();
    } else if (event.key === "Enter" && !list.hidden && at >= 0) {
      event.preventDefault();
      take(shown[at]);
    } else if (event.key === "Escape") show(false);
  });
  // Words that nothing holds are no answer: they stay, and it is said before one goes on.
  const check = () => {
    const lost = field.value.trim() !== "" && field.value !== (select.selectedOptions[0]?.text ?? "");
    field.setCustomValidity(lost ? say("Nothing in the list is called so. Choose from it, or leave this empty.") : "");
    return !lost;
  };
  field.addEventListener("blur", () => {
    show(false);
    check();
  });
  select.form.addEventListener("submit", (event) => {
    if (check() || event.submitter?.value === "back") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    field.reportValidity();
  });
  select.hidden = true;
  select.tabIndex = -1;
  box.append(field, list);
  select.after(box);
}

// Places are found by name, or the nearest come first.
function places(tools) {
  const question = tools.closest("[data-question]"),
    find = tools.querySelector("[data-find]"),
    near = tools.querySelector("[data-near]");
  const labels = [...question.querySelectorAll(".places .answer")];
  find?.addEventListener("input", () => {
    const words = find.value.trim().toLowerCase();
    labels.forEach((l) => {
      l.hidden = !l.textContent.toLowerCase().includes(words) && !l.querySelector(":checked");
    });
  });
  near?.addEventListener("click", () => {
    near.disabled = true;
    navigator.geolocation.getCurrentPosition(
      ({ coords }) =>
        location.assign(
          `${quiz.getAttribute("action")}?near=${coords.latitude.toFixed(3)},${coords.longitude.toFixed(3)}`,
        ),
      () => {
        near.textContent = say("Where you are is not known: choose by name");
      },
      { timeout: 10000, maximumAge: 600000 },
    );
  });
}

bringToLife(document);

// A page that answers a form is as any other for the browser's Back: it asks for nothing.
history.replaceState(history.state, "", location.href);

// What went wrong is read out and seen first.
document.querySelector(".wrong")?.focus();

// A redirect goes on after its seconds, unless one stays.
let goTo = (address) => location.assign(address);
const leave = document.querySelector("[data-leave]");
if (leave) {
  const going = setTimeout(() => goTo(leave.dataset.leave), Number(leave.dataset.after) * 1000);
  leave.querySelector("[data-stay]").addEventListener("click", (event) => {
    event.preventDefault();
    clearTimeout(going);
    leave.querySelector(".note").textContent = say("You stay here.");
  });
}

// ---- inside another page ------------------------------------------------------------

const framers = document.body.dataset.frames?.split(" ");
if (framers && parent !== window) {
  const tell = (what) => framers.forEach((origin) => parent.postMessage({ omphalos: what }, origin));
  const height = () => tell({ height: Math.ceil(document.documentElement.getBoundingClientRect().height) });
  document.documentElement.classList.add("framed");
  new ResizeObserver(height).observe(document.documentElement);
  height();
  goTo = (address) => tell({ go: address });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape") tell({ close: true });
  });
}
