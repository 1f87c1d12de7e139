// The stream of events is closed when a page is left, so that its end is no error, and opened again with the page.
export function watchEvents() {
  htmx.createEventSource = (address) => {
    const source = new EventSource(address);
    addEventListener("pagehide", () => source.close());
    return source;
  };
  addEventListener("pageshow", (event) => { if (event.persisted) location.reload(); });
}
