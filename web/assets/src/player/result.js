// A result is passed on by the device's own means, where there are some, and printed.
document.addEventListener("click", (event) => {
  const link = /** @type {HTMLAnchorElement | null} */ (event.target.closest?.("[data-share]"));
  if (!link || !navigator.share || link.pathname.startsWith("/rehearsals/")) return;
  event.preventDefault();
  navigator.share({ title: link.dataset.share, url: link.href }).catch(() => {});
});
document.addEventListener("click", (event) => {
  if (/** @type {Element} */ (event.target).closest("[data-print]")) print();
});

// What is pressed of a landing is counted, by this application alone.
for (const type of ["click", "auxclick"])
  document.addEventListener(type, (event) => {
    const to = event.target.closest?.("[data-press]")?.dataset.press;
    if (to) navigator.sendBeacon(to, new URLSearchParams());
  });
