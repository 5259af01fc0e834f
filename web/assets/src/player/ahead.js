import { quiz } from "./quiz.js";

// What comes next is fetched once this page is whole and has been drawn, so that it holds nothing
// up: pictures, and the page itself where it is the same whatever is answered. The form says so
// then, with the stamp of the passage that it was fetched for. A page that was fetched has its
// stamp behind its address.
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

/**
 * Sends the answers and goes to the page that is here already. Where the server takes nothing, or
 * has something to say, the form goes the usual way.
 *
 * @param {HTMLFormElement} form
 */
export async function goAhead(form) {
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
