// What is said to the marketer across the sheet.
import { button, element } from "./elements.js";

/** notice says something, with ways out of it: elements. */
export function notice(message, ...ways) {
  const box = document.getElementById("notice");
  box.replaceChildren(
    element("p", { textContent: message }),
    ...ways,
    button("Close", () => {
      box.hidden = true;
    }),
  );
  box.hidden = false;
}

/** gone offers what was typed into a field that is not there any more. */
export const gone = (typed) => notice(`What you were editing has been deleted elsewhere. You had typed: “${typed}”`);

/**
 * stalled says why nothing can be kept for now, with the way out of it; status 0 is the end
 * of it. Base is the address of the quiz.
 */
export function stalled(base, code, message) {
  if (!code) document.getElementById("notice").hidden = true;
  else if (code === 404)
    notice(
      message,
      button("Put it back", () => fetch(`${base}/restore`, { method: "POST" })),
    );
  else
    notice(
      message,
      element("a", {
        href: "/studio/sign-in",
        target: "_blank",
        textContent: "Sign in",
      }),
    );
}
