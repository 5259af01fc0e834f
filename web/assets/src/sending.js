// Changes wait in a line and go to the server one at a time, each against the
// revision that the one before it made. What can't be sent waits and is tried
// again; nothing that was typed is dropped.
import { opsOf, requestOf } from "./asking.js";
import { elementOf } from "./elements.js";
import { fieldAt, fields } from "./fields.js";
import { released } from "./pressing.js";
import { keptIn } from "./values.js";

const mostKept = 60000; // bytes that a browser sends after its page has gone
const stallEach = 2000; // ms between tries where nothing can be kept

export function keepSending(base, revision, { applied, refused, stalled, gather, shown, fellBehind }) {
  const waiting = []; // as requestOf takes them
  const held = new Map(); // path → change that waits for a choice
  const noted = new Set(); // paths being typed in
  const unfit = new Set(); // of them, those that hold what can't be kept
  let sendingNow = null;
  let failures = 0;
  let refusedLast = null;
  let leaving = false,
    catching = false;
  let newest = revision; // that is known of
  let waitsFor = 0; // status of an answer that says that nothing can be kept for now

  const status = (text, state = "") => {
    const box = document.getElementById("status");
    if (!box) return;
    if (box.textContent !== text) box.textContent = text;
    box.className = "status " + state;
  };

  // tellKept says whether all that was typed is kept, in the fields that are there.
  function tellKept(refusedNow = false) {
    for (const paths of [noted, unfit]) for (const path of paths) if (!fieldAt(path)) paths.delete(path);
    if (waiting.length || sendingNow) status("Keeping …", "busy");
    else if (held.size) status("A choice is waiting");
    else if (refusedNow || unfit.size) status("Not kept");
    else if (noted.size) status("Typing …", "busy");
    else status("All changes kept");
  }

  // change gives a value to a path, and to others with it.
  function change(path, value, also = []) {
    noted.delete(path);
    unfit.delete(path);
    // What goes back, or is about the structure, keeps its turn between two changes of a field.
    const last = waiting.findLast((w) => !w.path || w.path === path) ?? sendingNow;
    if (last?.path === path && last !== sendingNow) last.value = value;
    else if (last?.path !== path || JSON.stringify(last.value) !== JSON.stringify(value))
      waiting.push({ path, value, also });
    next();
  }

  function send(w) {
    waiting.push(w);
    next();
  }
  const goes = (path) => sendingNow?.path === path || waiting.some((w) => w.path === path);

  async function next() {
    if (sendingNow || leaving || catching) return;
    if (!waiting.length && newest > revision) waiting.push({ look: true });
    if (!waiting.length) return;
    const w = (sendingNow = waiting.shift());
    if (!w.look) status("Keeping …", "busy");
    let answer, update;
    try {
      const { url, headers, ...options } = requestOf(base, w);
      answer = await fetch(url, {
        ...options,
        keepalive: (options.body?.length ?? 0) < mostKept,
        headers: { ...headers, "If-Match": `"${revision}"`, Shown: shown() },
      });
      update = await answer.json();
    } catch {
      return later(w);
    }
    await released();
    sendingNow = null;
    if (answer.status === 503 || answer.status === 429) return later(w);
    failures = 0;
    if (answer.status === 401 || answer.status === 404) return stall(w, answer.status, update.message);
    if (waitsFor) stalled((waitsFor = 0));
    if (w.look && answer.ok) {
      const moved = update.revision !== revision;
      revision = newest = update.revision;
      if (moved) catchUp(null, update);
      else applied(update); // what waits is still about what is there
    } else if (answer.ok) {
      revision = update.revision;
      document.getElementById("wrong-" + w.path)?.remove();
      const field = w.path && document.querySelector(`[data-path="${CSS.escape(w.path)}"]`);
      field?.removeAttribute("aria-invalid");
      applied({ ...update, settled: w.path ? [w.path, ...(w.also ?? [])] : w.patch?.map((op) => op.path) });
      w.done?.(update.made);
    } else if (answer.status === 412) {
      revision = update.revision;
      catchUp(w, update);
    } else {
      // What was typed stays in its field; what has been typed since comes next.
      const typedOn = waiting.some((other) => w.path && other.path === w.path);
      if (w.path && !typedOn) {
        noted.add(w.path);
        unfit.add(w.path);
      }
      refusedLast = w;
      if (!typedOn) refused(update.message, w.path, w.act);
      w.done?.();
    }
    const dropped = !noted.has(w.path); // it is told in words: an act that can't be, or a field that is gone
    tellKept(!answer.ok && answer.status !== 412 && !dropped);
    next();
  }

  function later(w) {
    sendingNow = null;
    if (!w.path || waiting.find((other) => !other.path || other.path === w.path)?.path !== w.path) waiting.unshift(w);
    failures++;
    status("Not connected: your changes wait here", "off");
    setTimeout(next, Math.min(500 * 2 ** failures, 5000));
  }

  // stall: nothing can be kept until somebody signs in again, or the quiz is put back. It is
  // told once, and tried again and again.
  function stall(w, code, message) {
    if (!(w.look && waiting.length)) waiting.unshift(w);
    status(code === 401 ? "Signed out: not kept" : "Deleted: not kept", "off");
    if (waitsFor !== code) stalled((waitsFor = code), message);
    setTimeout(next, stallEach);
  }

  // look brings what has been changed elsewhere.
  function look() {
    if (!waiting.some((w) => w.look)) waiting.push({ look: true });
    next();
  }

  // catchUp: changes of fields are compared with what is there now; acts are
  // not repeated blindly, for what they were about may have moved.
  function catchUp(w, update) {
    catching = true;
    gather();
    const all = [w, ...waiting.splice(0)].filter((x) => x && !x.look);
    const mine = all.filter((x) => x.path);
    for (const dropped of all) if (!dropped.path) dropped.done?.();
    for (const m of mine) held.set(m.path, m);
    const values = new Map();
    for (const html of Object.values(update.parts))
      for (const field of elementOf(html).querySelectorAll(fields)) values.set(field.dataset.path, keptIn(field));
    fellBehind({ ...update, values: (path) => values.get(path) }, mine, all.length > mine.length);
    catching = false;
  }

  // leave returns the fields whose changes are not known to be kept as the page goes. Where
  // nothing is under way they go with it, in one request that the browser sends on its own.
  function leave() {
    const left = [sendingNow, ...waiting, ...held.values()].filter((w) => w?.path);
    if (!sendingNow && waiting.length) {
      const ops = waiting.filter((w) => w.path).flatMap(opsOf);
      const { url, headers, ...options } = requestOf(base, { patch: ops });
      if (ops.length && options.body.length < mostKept)
        fetch(url, { ...options, keepalive: true, headers: { ...headers, "If-Match": `"${revision}"` } });
    }
    return left;
  }

  // What has no field to be typed into again can't be taken up later: it is waited for. What
  // was refused is kept nowhere: whoever leaves is asked.
  addEventListener("beforeunload", (event) => {
    if (unfit.size || [sendingNow, ...waiting].some((w) => w && !w.path && !w.look)) event.preventDefault();
  });
  addEventListener("online", () => next());

  return {
    change,
    leave,
    look,
    stands(at) {
      newest = Math.max(newest, at);
      next();
    },
    typed(path) {
      return refusedLast?.path === path ? refusedLast.value : undefined;
    },
    pause(on) {
      leaving = on;
      if (!on) next();
    },
    keepFor(path, value) {
      held.set(path, { path, value });
    },
    // act sends an act; done is called with what it has made, or nothing where it was not done.
    act: ({ done, ...act }) => send({ act, done }),
    reuse: (question) => send({ reuse: question }),
    table: (file, text) => send({ table: file, text }),
    aim: (step, shares) => send({ aim: step, shares }),
    patch: (ops) => send({ patch: ops }),
    walk: (way) => send({ walk: way }),
    note(path) {
      noted.add(path);
      unfit.delete(path);
      if (!failures && !waitsFor) tellKept();
    },
    // wrong says that what a field holds can't be kept.
    wrong(path) {
      noted.add(path);
      unfit.add(path);
      tellKept();
    },
    noted: (path) => noted.has(path),
    /** The fields that hold what can't be kept. */
    unfit: () => [...unfit].map(fieldAt).filter(Boolean),
    forget(path) {
      noted.delete(path);
      unfit.delete(path);
      held.delete(path);
      if (!failures && !waitsFor) tellKept();
    },
    hold(path) {
      noted.add(path);
    },
    // renamed lets what waits for one place go to another, where that is now.
    renamed(from, to) {
      const now = (path) => (path === from || path?.startsWith(from + "/") ? to + path.slice(from.length) : path);
      for (const w of waiting) {
        if (w.path) w.path = now(w.path);
        if (w.act?.path) w.act.path = now(w.act.path);
        w.also = w.also?.map(now);
      }
      for (const paths of [noted, unfit]) for (const path of [...paths]) if (paths.delete(path)) paths.add(now(path));
      for (const [path, w] of [...held]) {
        held.delete(path);
        held.set(now(path), { ...w, path: now(w.path) });
      }
    },
    again(path) {
      const w = held.get(path);
      held.delete(path);
      if (w) change(path, w.value, w.also);
    },
    // goes tells whether a change of a field is on its way, waits whether what it holds is not
    // known to be kept.
    goes,
    waits: (path) => noted.has(path) || held.has(path) || goes(path),
  };
}
