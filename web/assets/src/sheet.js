// The sheet: what is typed, dragged and clicked becomes a change that is sent
// at once, one after the other; the server answers with the parts of the page
// that are different now.
import { keepSending } from "./sending.js";
import { handleKeys } from "./keys.js";
import { handleRuler } from "./ruler.js";
import { handleExpectations } from "./expect.js";
import { handlePath } from "./path.js";
import { handlePicks } from "./picks.js";
import { openLedger } from "./ledger.js";
import { handleFinding } from "./find.js";
import { handlePictures } from "./pictures.js";
import { offerReady, handleFolding } from "./ready.js";
import { hearNews } from "./news.js";
import { valueOf, keptIn, isLate, wrong } from "./values.js";
import { keepParts } from "./parts.js";
import Sortable from "sortablejs";

const typingPause = 400; // ms after the last key before a text is sent

export function openSheet(desk) {
  const base = `/studio/quizzes/${desk.dataset.quiz}`;
  const timers = new Map();
  let focusAfter = null;

  const sending = keepSending(base, Number(desk.dataset.revision), {
    applied,
    refused,
    stalled,
    gather: () => flush(),
    shown: () => desk.dataset.shown,
    fellBehind,
  });

  // An act may lead the focus to what it has made or moved, but not away from where
  // somebody has gone in the meantime.
  let origin = null;
  for (const way of ["act", "reuse"]) {
    const send = sending[way];
    sending[way] = (what) => {
      origin = document.activeElement;
      send(what);
    };
  }
  const stayed = () =>
    [origin, document.body, null].includes(document.activeElement) || !document.activeElement.isConnected;

  // ---- fields -------------------------------------------------------------

  const fields = "[data-path]:is(input,textarea,select)";

  document.addEventListener("input", (event) => {
    const field = event.target.closest(fields);
    if (!field || field.type === "checkbox" || field.tagName === "SELECT") return;
    grow(field);
    sending.note(field.dataset.path);
    if (isLate(field)) return; // sent when it is left
    clearTimeout(timers.get(field));
    timers.set(
      field,
      setTimeout(() => keep(field), typingPause),
    );
  });
  document.addEventListener("change", (event) => {
    const field = event.target.closest(fields);
    if (field) return keep(field);
    if (event.target.dataset.choose !== undefined) return sending.patch(JSON.parse(event.target.value));
    if (event.target.dataset.go !== undefined) return location.assign(event.target.value);
    if (event.target.dataset.frame !== undefined) return addFrame(event.target);
    const { turn, yes, no, merge } = event.target.dataset;
    if (!turn && !yes && !merge) return;
    flush();
    if (merge) sending.act({ do: "merge", path: merge, scale: event.target.value });
    else if (turn) turnSoon(event.target);
    else sending.patch(JSON.parse(event.target.checked ? yes : no));
  });

  // A browser says nothing of a change to what was in a field when it last spoke of one,
  // though the field has been given something else since.
  document.addEventListener("focusout", (event) => {
    const field = event.target.closest?.(fields);
    if (field && sending.noted(field.dataset.path)) keep(field);
  });

  // turnSoon waits until a kind stays chosen: arrow keys go past others.
  let turning = 0;
  function turnSoon(select) {
    clearTimeout(turning);
    const { turn } = select.dataset,
      send = () => sending.act({ do: "turn", path: turn, kind: select.value });
    if (arrowed) turning = setTimeout(send, typingPause);
    else send();
  }
  let arrowed = false;
  document.addEventListener(
    "keydown",
    (event) => {
      arrowed = event.key.startsWith("Arrow") || event.key.length === 1;
    },
    true,
  );
  document.addEventListener(
    "pointerdown",
    () => {
      arrowed = false;
    },
    true,
  );

  // addFrame lets pages of one more address show the quiz inside them.
  function addFrame(field) {
    const typed = field.value.trim();
    if (!typed) return;
    const origin = URL.canParse(typed) ? new URL(typed).origin : typed;
    field.value = "";
    sending.patch([{ op: "add", path: "/settings/frames", value: [...JSON.parse(field.dataset.frame), origin] }]);
  }

  function keep(field) {
    clearTimeout(timers.get(field));
    timers.delete(field);
    if (!field.isConnected) return keepAgain(field);
    if (field.tagName === "SELECT" && field.value === "+")
      return sending.act({ do: "add", path: "/outcomes", link: field.dataset.path });
    const value = valueOf(field);
    if (value === wrong) {
      tell(field, "This is not a number. Type one such as 4, −1 or 2.5, or leave the cell empty.");
      return;
    }
    if (same(field)) {
      clear(field);
      sending.forget(field.dataset.path);
      return;
    }
    sending.change(field.dataset.path, value, field.dataset.also?.trim().split(" "));
  }

  // keepAgain: a field that is not on the page any more has been made anew, or what it
  // belongs to has been deleted: then what was typed is offered again.
  function keepAgain(field) {
    const now = fieldAt(field.dataset.path);
    if (now) {
      now.value = field.value;
      return keep(now);
    }
    sending.forget(field.dataset.path);
    if (field.value !== field.defaultValue) gone(field.value);
  }

  const gone = (typed) => notice(`What you were editing has been deleted elsewhere. You had typed: “${typed}”`);

  // flush sends what is still being typed, before something else is done.
  function flush() {
    for (const field of [...timers.keys()]) keep(field);
    const active = document.activeElement?.closest?.(fields);
    if (active && isLate(active)) keep(active);
  }

  // ---- what is typed as the page goes ------------------------------------------
  // It is kept on the device until the server is known to have it, and taken up when the
  // sheet is opened again.

  const shelf = `omphalos-left-${desk.dataset.quiz}`;

  addEventListener("pagehide", () => {
    sending.pause(true);
    flush();
    const left = sending
      .leave()
      .map(({ path, value }) => ({
        path,
        value,
        text: fieldAt(path)?.value ?? "",
        before: fieldAt(path)?.defaultValue ?? "",
      }));
    try {
      if (left.length) localStorage.setItem(shelf, JSON.stringify(left));
    } catch {
      /* then the request that goes with the page is all there is */
    }
  });
  addEventListener("pageshow", (event) => {
    if (!event.persisted) return;
    localStorage.removeItem(shelf);
    sending.pause(false);
  });

  function takeUp() {
    let left = [];
    try {
      left = JSON.parse(localStorage.getItem(shelf) ?? "[]");
      localStorage.removeItem(shelf);
    } catch {
      /* nothing was left */
    }
    for (const { path, value, text, before } of left) {
      const field = fieldAt(path);
      if (!field)
        notice(`What you were editing when the page was left is not there any more. You had typed: “${text}”`);
      else if (field.defaultValue === before) sending.change(path, value);
      else if (field.defaultValue !== text && JSON.stringify(valueOf(field)) !== JSON.stringify(value)) {
        sending.keepFor(path, value);
        choose(field, path, text, field.defaultValue);
      }
    }
  }

  // ---- acts ---------------------------------------------------------------

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

  // move puts an item one place up or down among its like.
  function move(path, way) {
    const item = itemAt(path);
    if (picks.has(path)) return picks.move(way);
    if (path.startsWith("/sections/")) return moveSection(path, way);
    const other = way === "up" ? item?.previousElementSibling : item?.nextElementSibling;
    if (other?.dataset.section !== undefined) return intoSection(item, other, way);
    if (!other?.dataset.item) return;
    focusAfter = { path: document.activeElement?.dataset?.path, act: document.activeElement?.dataset?.act, item: path };
    sending.act({ do: "move", path, [way === "up" ? "before" : "after"]: keyOf(other.dataset.item) });
  }

  function moveSection(path, way) {
    const heads = [...document.querySelectorAll("#questions > [data-section]")].map((s) => s.dataset.section);
    const other = heads[heads.indexOf(keyOf(path)) + (way === "up" ? -1 : 1)];
    if (other !== undefined) sending.act({ do: "move", path, [way === "up" ? "before" : "after"]: other });
  }

  // intoSection moves a question over the head of a section into the next one.
  function intoSection(item, head, way) {
    const into = way === "up" ? sectionAbove(head) : head.dataset.section;
    if (into === undefined) return;
    const next = way === "up" ? null : head.nextElementSibling?.dataset.item;
    focusAfter = {
      path: document.activeElement?.dataset?.path,
      act: document.activeElement?.dataset?.act,
      item: item.dataset.item,
    };
    sending.act({ do: "move", path: item.dataset.item, into, ...(next ? { before: keyOf(next) } : {}) });
  }

  // sectionAbove returns the section under whose head a question stands.
  function sectionAbove(item) {
    for (let el = item.previousElementSibling; el; el = el.previousElementSibling)
      if (el.dataset.section !== undefined) return el.dataset.section;
    return undefined;
  }

  const itemAt = (path) => document.querySelector(`[data-item="${CSS.escape(path)}"]`);
  const keyOf = (path) => path.slice(path.lastIndexOf("/") + 1);

  function sortable(list) {
    if (list.sortable) return;
    list.sortable = Sortable.create(list, {
      handle: ".grip",
      draggable: "[data-item]",
      forceFallback: true,
      fallbackTolerance: 3,
      animation: matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : 120,
      onEnd(event) {
        if (event.oldIndex === event.newIndex) return;
        flush();
        const path = event.item.dataset.item,
          block = picks.has(path);
        let next = event.item.nextElementSibling,
          last = event.item.previousElementSibling;
        while (block && picks.has(next?.dataset.item)) next = next.nextElementSibling;
        while (block && picks.has(last?.dataset.item)) last = last.previousElementSibling;
        const place = next?.dataset.item
          ? { before: keyOf(next.dataset.item) }
          : last?.dataset.item
            ? { after: keyOf(last.dataset.item) }
            : {};
        sending.act({
          do: "move",
          ...(block ? { paths: picks.paths() } : { path }),
          ...place,
          into: sectionAbove(event.item),
        });
      },
    });
  }

  // ---- what the server answers ----------------------------------------------

  const lists = { questions: "questions", outcomes: "outcomes", steps: "steps" };

  function applied(update) {
    const held = holdFocus();
    for (const [id, html] of Object.entries(update.parts)) parts.bring(id, html);
    for (const [name, ids] of Object.entries(update.orders)) {
      const list = document.getElementById(lists[name]);
      for (const child of [...list.children]) if (!ids.includes(child.id)) child.remove();
      ids.forEach((id, i) => {
        let child = document.getElementById(id);
        if (!child && update.parts[id]) {
          const holder = document.createElement("template");
          holder.innerHTML = update.parts[id];
          child = holder.content.firstElementChild;
        }
        if (child && list.children[i] !== child) list.insertBefore(child, list.children[i] ?? null);
      });
    }
    desk.dataset.revision = update.revision;
    desk.dataset.shown = update.shown;
    for (const path of update.settled ?? [])
      document.querySelectorAll(`${fields}[data-path="${CSS.escape(path)}"]`).forEach(settle);
    ledger.showColumns();
    fold();
    picks.show();
    Object.keys(update.parts).forEach((id) => refresh(document.getElementById(id)));
    if (update.told) notice(update.told);
    if (update.made && stayed()) focusOn(update.made);
    else if (focusAfter && stayed()) {
      const within = itemAt(focusAfter.item);
      const again = focusAfter.path
        ? document.querySelector(`[data-path="${CSS.escape(focusAfter.path)}"]`)
        : within?.querySelector(`[data-act="${focusAfter.act}"]`);
      (again?.disabled ? within.querySelector("textarea,input") : again)?.focus();
    } else held();
    focusAfter = null;
  }

  // holdFocus remembers which control has the focus by what it is for, and returns what
  // gives it back where the control has been made anew.
  function holdFocus() {
    const at = document.activeElement;
    const name = ["path", "turn", "merge", "set", "act", "expect", "scale"].find((n) => at?.dataset?.[n] !== undefined);
    const item = at?.closest?.("[data-item]")?.dataset.item;
    return () => {
      if (!name || document.activeElement === at || document.activeElement !== document.body) return;
      const within = (item && itemAt(item)) || document;
      within.querySelector(`[data-${name}="${CSS.escape(at.dataset[name])}"]`)?.focus({ preventScroll: true });
    };
  }

  // A field that is being typed in keeps what is in it, and what is said about it; what
  // the server has for it is taken down all the same, to be shown when it waits no more.
  function mayChange(old, fresh) {
    if (!old.matches?.(fields) || !(sending.waits(old.dataset.path) || old === document.activeElement)) return true;
    if (fresh.tagName !== old.tagName) return false;
    for (const { name, value } of fresh.attributes) if (old.getAttribute(name) !== value) old.setAttribute(name, value);
    if (old.tagName === "TEXTAREA") old.defaultValue = fresh.defaultValue;
    if (old.tagName === "SELECT") {
      const chosen = old.value;
      old.replaceChildren(...fresh.cloneNode(true).childNodes);
      old.value = chosen;
    }
    return false;
  }
  const mayGo = (old) =>
    old.id !== "offer" &&
    !(
      old.classList?.contains("dispute") ||
      (old.classList?.contains("fieldwrong") && sending.waits(old.id.slice("wrong-".length)))
    );

  const parts = keepParts({ beforeNodeMorphed: mayChange, beforeNodeRemoved: mayGo });

  // refresh brings the fields of a part to what the server has, but for those being edited.
  function refresh(part) {
    part?.querySelectorAll(fields).forEach(settle);
    part?.querySelectorAll("[data-list]").forEach(sortable);
  }

  // settle shows what the server has for a field that waits for nothing.
  function settle(field) {
    if (sending.waits(field.dataset.path)) return;
    if (field.tagName === "SELECT") {
      const chosen = [...field.options].findIndex((o) => o.defaultSelected);
      if (chosen >= 0 && field.selectedIndex !== chosen) field.selectedIndex = chosen;
    } else if (field.type === "checkbox") field.checked = field.defaultChecked;
    else if (field.value !== field.defaultValue && !field.hasAttribute("aria-invalid")) {
      const whole =
        field === document.activeElement &&
        field.value &&
        field.selectionEnd - field.selectionStart === field.value.length;
      field.value = field.defaultValue;
      if (whole) field.select();
    }
    grow(field);
  }

  // goTo focuses the field at a pointer, or the first one of what is around it.
  function goTo(pointer) {
    for (let at = pointer; at.lastIndexOf("/") > 0; at = at.slice(0, at.lastIndexOf("/"))) {
      const field =
        fieldAt(at) ??
        itemAt(at)?.querySelector(fields) ??
        document.querySelector(`${fields}[data-path^="${CSS.escape(at)}/"]`);
      if (!field) continue;
      field.scrollIntoView({ block: "center" });
      field.focus({ preventScroll: true });
      return true;
    }
    return false;
  }

  function focusOn(path) {
    const item = itemAt(path);
    const field =
      item?.querySelector("textarea,input") ?? document.querySelector(`[data-path="${CSS.escape(path)}/at"]`);
    field?.focus();
    field?.select?.();
    item?.scrollIntoView({ block: "nearest" });
  }

  // refused says at its field why a change was not kept. What was typed stays.
  function refused(message, path) {
    const field = path && document.querySelector(`${fields}[data-path="${CSS.escape(path)}"]`);
    if (path && !field) {
      gone(sending.typed(path) ?? "");
      sending.forget(path);
    } else if (field) tell(field, message);
    else notice(message);
  }

  function tell(field, message) {
    clear(field);
    const p = document.createElement("p");
    p.className = "fieldwrong";
    p.id = "wrong-" + field.dataset.path;
    p.setAttribute("role", "alert");
    p.textContent = message;
    field.setAttribute("aria-invalid", "true");
    field.setAttribute("aria-describedby", p.id);
    (field.closest(".cell") ?? field.closest(".line") ?? field).after(p);
  }

  function clear(field) {
    document.getElementById("wrong-" + field.dataset.path)?.remove();
    field.removeAttribute("aria-invalid");
    field.removeAttribute("aria-describedby");
  }

  // fellBehind brings a tab up to date that another one has overtaken. A text
  // that both have changed is put to the choice. Late tells that an act came too late.
  function fellBehind(update, waiting, late) {
    const before = new Map(waiting.map((w) => [w.path, fieldAt(w.path) && keptIn(fieldAt(w.path))]));
    const mine = new Map(waiting.map((w) => [w.path, w.value]));
    applied(update);
    if (late) notice(`${update.message} The page shows it now; what you typed is still here.`);
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

  const fieldAt = (path) => document.querySelector(`${fields}[data-path="${CSS.escape(path)}"]`);

  function choose(field, path, mine, theirs) {
    const box = document.createElement("div");
    box.className = "dispute";
    box.setAttribute("role", "alert");
    const say = (tag, text) => box.appendChild(Object.assign(document.createElement(tag), { textContent: text }));
    say("p", "This was changed elsewhere in the meantime. There it is now:");
    say("blockquote", theirs || "(empty)");
    const button = (text, done) => {
      const b = say("button", text);
      b.type = "button";
      b.className = "quiet";
      b.addEventListener("click", () => {
        box.remove();
        done();
      });
    };
    button("Put mine in", () => sending.again(path));
    button("Take theirs", () => {
      sending.forget(path);
      field.value = field.dataset.theirs ?? theirs;
      field.defaultValue = field.value;
      grow(field);
    });
    (field.closest(".cell") ?? field).after(box);
    sending.hold(path);
  }

  // stalled says why nothing can be kept for now, with the way out of it; 0 is the end of it.
  function stalled(code, message) {
    if (!code) document.getElementById("notice").hidden = true;
    else if (code === 404)
      notice(
        message,
        Object.assign(document.createElement("button"), {
          type: "button",
          className: "quiet",
          textContent: "Put it back",
          onclick: () => fetch(`${base}/restore`, { method: "POST" }),
        }),
      );
    else
      notice(
        message,
        Object.assign(document.createElement("a"), {
          href: "/studio/sign-in",
          target: "_blank",
          textContent: "Sign in",
        }),
      );
  }

  function notice(message, ...ways) {
    const box = document.getElementById("notice");
    box.replaceChildren(
      Object.assign(document.createElement("p"), { textContent: message }),
      ...ways,
      Object.assign(document.createElement("button"), {
        type: "button",
        className: "quiet",
        textContent: "Close",
        onclick: () => {
          box.hidden = true;
        },
      }),
    );
    box.hidden = false;
  }

  const ledger = openLedger({ sending, notice, flush });
  const picks = handlePicks({ sending, flush });
  handlePath({ sending, flush, notice });
  const fold = handleFolding();
  offerReady({ sending, flush });
  handleFinding({ sending, flush, goTo });
  handlePictures({ sending, flush });
  handleKeys({ act, move, flush, sending, ledger });
  handleRuler(desk, (path, value) => sending.change(path, value));
  handleExpectations((path, value) => sending.change(path, value));
  document.querySelectorAll(fields).forEach(grow);
  document.querySelectorAll("[data-list]").forEach(sortable);
  lightThreads();
  takeUp();
  let released = Number(desk.dataset.released);
  hearNews(`${base}/news`, {
    stands(news) {
      if (released !== news.released) sending.look();
      released = news.released;
      sending.stands(news.revision);
    },
    gone: sending.look,
    refused: sending.look,
  });
}

function same(field) {
  if (field.type === "checkbox") return field.checked === field.defaultChecked;
  if (field.tagName === "SELECT") return field.options[field.selectedIndex]?.defaultSelected;
  return field.value === field.defaultValue;
}

// grow makes a text as high as its words where the browser does not.
const sizesItself = CSS.supports("field-sizing", "content");
function grow(field) {
  if (sizesItself || field.tagName !== "TEXTAREA") return;
  field.style.height = "auto";
  field.style.height = field.scrollHeight + "px";
}

// Pointing at an answer lights its thread all the way, along the trunk too where it keeps
// to it; pointing at a question or an outcome, all that lead there as well.
function lightThreads() {
  const light = (event) => {
    const item = event.target.closest?.("[data-item]")?.dataset.item;
    document.querySelectorAll(".th.lit").forEach((t) => t.classList.remove("lit"));
    if (!item) return;
    const path = CSS.escape(item),
      mine = [...document.querySelectorAll(`.th[data-thread="${path}"],.th[data-end="${path}"]`)];
    const question = item.match(/^(\/questions\/[^/]+)\/answers\//)?.[1];
    if (question && !mine.some((t) => t.dataset.end))
      mine.push(...document.querySelectorAll(`.th[data-thread="${CSS.escape(question)}"]`));
    mine.forEach((t) => t.classList.add("lit"));
  };
  document.addEventListener("pointerover", light);
  document.addEventListener("focusin", light);
}
