import { leave } from "./leaving.js";
import { taps } from "./one.js";
import { bringToLife } from "./parts.js";
import { growing } from "./several.js";
import { remembered } from "./typed.js";

/** Brings the page that is here to life. */
export function begin() {
  remembered();
  bringToLife(document);
  growing();
  taps();
  leave();
  document.querySelector(".wrong")?.focus(); // what went wrong is read out and seen first
  // Pictures of the page that comes next are fetched once this one is looked at.
  const glance = 400; // ms
  setTimeout(() => {
    for (const meta of document.querySelectorAll("meta[name=ahead]")) new Image().src = meta.getAttribute("content");
  }, glance);
}

/**
 * Shows a page in the place of the one that is here, as if the browser had gone there.
 *
 * @param {string} html
 * @param {string | null} address of the page, where it is another
 */
export function show(html, address) {
  const page = new DOMParser().parseFromString(html, "text/html");
  if (address && address !== location.pathname + location.search) {
    here();
    history.pushState(null, "", address);
  }
  document.title = page.title;
  for (const name of ["lang", "dir", "class"])
    document.documentElement.setAttribute(name, page.documentElement.getAttribute(name) ?? "");
  if (parent !== window) document.documentElement.classList.add("framed");
  const style = (of) => of.querySelector("link[rel=stylesheet]").getAttribute("href");
  if (style(page) !== style(document)) document.querySelector("link[rel=stylesheet]").href = style(page);
  document.querySelectorAll("meta[name=ahead]").forEach((meta) => meta.remove());
  document.head.append(...page.querySelectorAll("meta[name=ahead]"));
  document.body.replaceWith(page.body);
  scrollTo(0, 0);
  const heading = /** @type {HTMLElement | null} */ (document.querySelector("h1"));
  if (heading) {
    heading.tabIndex = -1; // where reading begins
    heading.focus({ preventScroll: true });
  }
  begin();
}

// The first page of a quiz without an opening has the quiz's address, and is one of the passage
// once it is answered.
function here() {
  const form = document.querySelector("form.quiz");
  const number = form?.querySelector("[name=passage]")?.value;
  if (number) history.replaceState(null, "", `/p/${number}/${form.querySelector("[name=asked]").value}`);
}

// Back and forward ask for the page that stood there, with what has been answered since.
addEventListener("popstate", () => location.reload());
