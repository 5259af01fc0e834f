// What is changed elsewhere, in another tab or by somebody else, comes to an open sheet as
// server-sent events. A page that is not seen hears nothing (a browser opens six connections
// to a place, for all its tabs) and hears all when it is seen again.

const again = 2000; // ms until a stream that was refused is asked for again

export function hearNews(url, { stands, gone, refused }) {
  let source = null,
    asking = 0;

  function open() {
    clearTimeout(asking);
    source?.close();
    source = null;
    if (document.hidden) return;
    source = new EventSource(url);
    source.addEventListener("stands", (event) => stands(JSON.parse(event.data)));
    source.addEventListener("gone", gone);
    source.addEventListener("error", () => {
      if (source?.readyState !== EventSource.CLOSED) return; // the browser asks again by itself
      asking = setTimeout(open, again);
      refused();
    });
  }

  document.addEventListener("visibilitychange", open);
  addEventListener("pagehide", () => source?.close());
  addEventListener("pageshow", (event) => event.persisted && open());
  open();
}
