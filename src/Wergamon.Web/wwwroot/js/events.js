// The server tells when something changes; each message becomes an event "told" of the document.
const KINDS = ["runs", "ended", "ended-before", "library", "disc", "storage"];
const RECONNECT_MS = 2000;

export function watchEvents() {
  // What was sent after the page was made, or after the last message, comes first.
  let last = document.body.dataset.lastEvent, source;
  const open = () => {
    source = new EventSource(`/events?after=${last}`);
    for (const kind of KINDS) {
      source.addEventListener(kind, ({ data, lastEventId }) => {
        last = lastEventId;
        document.dispatchEvent(new CustomEvent("told", { detail: { kind, ...JSON.parse(data) } }));
      });
    }
    // The browser connects again by itself, except after an answer that is no stream.
    source.addEventListener("error", () => { if (source.readyState === EventSource.CLOSED) setTimeout(open, RECONNECT_MS); });
  };
  open();
  // The stream is closed when a page is left, so that its end is no error, and opened again with the page.
  addEventListener("pagehide", () => source.close());
  addEventListener("pageshow", (event) => { if (event.persisted) location.reload(); });
}
