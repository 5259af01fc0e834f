// Puts a quiz into a page of somebody else's: as a block in its place, as a pop-up, or as a
// slim bar on top. It is set up by attributes of its own script element:
//
//   data-quiz      the quiz's part of its address
//   data-as        block (in the place of the script), popup or bar
//   data-after     a pop-up opens after so many seconds,
//   data-scrolled  when so many percent of the page have been scrolled,
//   data-leaving   when the pointer leaves the page at its top: whichever comes first
//   data-phones    "no": neither pop-up nor bar on phones
//   data-words     words of the bar, data-button those on its button, data-title of the frame
(() => {
  const me = document.currentScript;
  if (!me?.dataset.quiz) return;
  const {
    quiz,
    as = "block",
    after,
    scrolled,
    leaving,
    phones,
    words = "",
    button = "Begin",
    title = "Quiz",
  } = me.dataset;
  const home = new URL(me.src).origin;
  const address = `${home}/q/${encodeURIComponent(quiz)}?frame=1&${location.search.slice(1)}`;
  const make = (tag, props, ...inside) => {
    const el = Object.assign(document.createElement(tag), props);
    el.append(...inside);
    return el;
  };

  const frame = make("iframe", { title });
  frame.style.cssText = "display:block;width:100%;border:0;height:480px;color-scheme:normal";
  let close = () => {};
  addEventListener("message", (event) => {
    const says = event.data?.omphalos;
    if (event.origin !== home || event.source !== frame.contentWindow || !says) return;
    if (says.height > 0) frame.style.height = `${Math.min(Math.ceil(says.height), 20000)}px`;
    if (says.close) close();
    if (/^https?:\/\//.test(says.go ?? "")) location.assign(says.go);
  });
  const load = () => {
    if (!frame.src) frame.src = address;
  };

  if (as === "block") {
    frame.loading = "lazy";
    load();
    me.after(frame);
    return;
  }

  const phone = matchMedia("(max-width: 640px), (pointer: coarse) and (hover: none)").matches;
  if (phone && phones === "no") return;

  // The page's own styles stay outside, and ours inside.
  const host = make("div", {}),
    root = host.attachShadow({ mode: "open" });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(`:host{all:initial}dialog{padding:0;border:1px solid #42555c;width:min(620px,calc(100vw - 24px));max-height:calc(100dvh - 24px);overflow:auto;background:#fff;color:#17232a}dialog::backdrop{background:rgb(16 25 30/.5)}
.top{display:flex;justify-content:flex-end;position:sticky;top:0;height:0;z-index:1}.close{margin:6px;width:40px;height:40px;flex:none;border:0;background:#fff;color:#17232a;cursor:pointer;font:22px/1 system-ui}
.bar{position:fixed;inset:0 0 auto;z-index:2147483000;display:flex;gap:16px;align-items:center;justify-content:center;padding:8px 56px 8px 16px;background:#17232a;color:#fff;font:500 16px/1.3 system-ui}.bar .open{border:0;background:#fff;color:#17232a;font:600 15px/1 system-ui;padding:11px 16px;cursor:pointer}.bar .close{position:absolute;right:2px;top:2px;margin:4px;background:none;color:#fff}
button:focus-visible{outline:3px solid #17627a;outline-offset:2px}.bar button:focus-visible{outline-color:#6fc0d8}`);
  root.adoptedStyleSheets = [sheet];
  const cross = (label) => make("button", { type: "button", className: "close", ariaLabel: label, textContent: "×" });
  const shut = cross("Close");
  const dialog = make("dialog", { ariaLabel: title }, make("div", { className: "top" }, shut), frame);
  root.append(dialog);
  document.body.append(host);
  close = () => dialog.close();
  shut.addEventListener("click", close);

  // Once for each visitor: what was seen is remembered on their device.
  const key = `quiz-seen-${quiz}-${as}`;
  let seen = false;
  try {
    seen = localStorage.getItem(key) !== null;
  } catch {
    /* private windows may forbid it */
  }
  const remember = () => {
    try {
      localStorage.setItem(key, "1");
    } catch {
      /* likewise */
    }
  };

  const open = () => {
    if (dialog.open) return;
    load();
    dialog.showModal(); // keeps the focus inside, closes by Escape, gives the focus back
    remember();
  };

  if (as === "bar") {
    if (seen) return;
    const begin = make("button", { type: "button", className: "open", textContent: button }),
      away = cross("Put the bar away");
    const bar = make(
      "div",
      { className: "bar", role: "region", ariaLabel: title },
      make("span", { textContent: words }),
      begin,
      away,
    );
    const room = document.documentElement.style.marginTop;
    root.prepend(bar);
    document.documentElement.style.marginTop = `${bar.offsetHeight}px`;
    const gone = () => {
      remember();
      bar.remove();
      document.documentElement.style.marginTop = room;
    };
    begin.addEventListener("click", open);
    away.addEventListener("click", gone);
    return;
  }

  if (seen) return;
  let done = false;
  const once = () => {
    if (done || document.visibilityState === "hidden") return;
    done = true;
    open();
  };
  if (after !== undefined || (scrolled === undefined && leaving === undefined))
    setTimeout(once, 1000 * (Number(after) >= 0 && after !== "" ? Number(after) : 25));
  if (scrolled !== undefined) {
    const look = () => {
      const rest = document.documentElement.scrollHeight - innerHeight;
      if (rest <= 0 || scrollY / rest >= Number(scrolled) / 100) once();
    };
    addEventListener("scroll", look, { passive: true });
  }
  if (leaving !== undefined)
    document.documentElement.addEventListener("mouseleave", (event) => {
      if (event.clientY <= 0) once();
    });
})();
