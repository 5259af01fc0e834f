// A press is a pointer that goes down and up at one place. What leaves a field begins with one,
// and what the server says to that may come before it ends: were it brought then, what is pressed
// could move away from under the pointer, and nothing would come of the press.
const longest = 1000; // ms that a press is waited for

let down = false;
const waiting = [];

function end() {
  down = false;
  setTimeout(() => waiting.splice(0).forEach((go) => go())); // behind the click
}

addEventListener("pointerdown", (event) => (down = event.button === 0), true);
for (const type of ["pointerup", "pointercancel"]) addEventListener(type, end, true);

/** released is there when nothing is being pressed. */
export const released = () =>
  down &&
  new Promise((go) => {
    waiting.push(go);
    setTimeout(go, longest);
  });
