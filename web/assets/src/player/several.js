import { bringToLife } from "./parts.js";
import { quiz } from "./quiz.js";
import { say } from "./say.js";

// Several questions on a page: answers bring up questions and take them away, in their place and
// without moving what is looked at. What has changed is read out.
export function growing() {
  const form = quiz();
  if (form?.dataset.grows === undefined) return;
  let asking = null,
    again = false;
  const look = async () => {
    if (asking) return (again = true);
    const data = new URLSearchParams(/** @type {any} */ (new FormData(form)));
    data.set("go", "look");
    asking = fetch(form.getAttribute("action") || location.href, { method: "POST", body: data });
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
    if (!action) return;
    form.setAttribute("action", action);
    history.replaceState(null, "", action); // where the page is, now that it is kept
  };
  form.addEventListener("change", look);
}
