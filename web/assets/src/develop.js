// While pages are being changed (make dev): each loads again when a template or an asset is
// saved, and when the server is another.
const changes = new EventSource("/develop/changes");
let met = false;
changes.addEventListener("ready", () => {
  if (met) location.reload();
  met = true;
});
changes.addEventListener("saved", () => location.reload());
