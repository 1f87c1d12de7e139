const KINDS = ["runs", "ended", "library", "disc", "storage"];

// htmx sets up again what a morph has changed, some milliseconds after the answer.
const SETTLED_MS = 60;

// The stream of events is closed when a page is left, so that its end is no error, and opened again with the page.
export function watchEvents() {
  htmx.createEventSource = (address) => {
    const source = new EventSource(address);
    addEventListener("pagehide", () => source.close());
    return source;
  };
  addEventListener("pageshow", (event) => { if (event.persisted) location.reload(); });
  askAgain();
}

// When htmx sets up a part of the page again, it forgets what that part was still waiting to ask for. So an event that comes while a part is
// being renewed renews it once more afterwards: the last answer is the newest.
function askAgain() {
  const underWay = new WeakMap(), seen = new WeakMap(), missed = new WeakMap();
  document.addEventListener("htmx:beforeRequest", ({ detail: { elt } }) => underWay.set(elt, (underWay.get(elt) ?? 0) + 1));
  document.addEventListener("htmx:afterRequest", ({ detail: { elt } }) => {
    const left = Math.max(0, (underWay.get(elt) ?? 0) - 1), kind = missed.get(elt);
    underWay.set(elt, left);
    if (left > 0 || !kind) return;
    missed.delete(elt);
    setTimeout(() => {
      const now = elt.isConnected ? elt : elt.id && document.getElementById(elt.id);
      if (now) htmx.trigger(now, kind);
    }, SETTLED_MS);
  });
  for (const kind of KINDS) {
    // Before the part itself hears of it, and once for each message.
    document.addEventListener(`sse:${kind}`, (event) => {
      const { target, type, detail } = event;
      if (isTooEarly(target, kind)) event.stopImmediatePropagation();
      else if (seen.get(target) !== detail) {
        seen.set(target, detail);
        if (underWay.get(target) > 0 && missed.get(target) !== "sse:ended") missed.set(target, type);
      }
    }, { capture: true });
  }
}

// A part that costs much is renewed only every so many seconds (data-renew-every), the last time after the last event; the end of a run shows at
// once. The throttle of htmx would drop that, too.
const renewed = new WeakMap(), due = new WeakSet();
function isTooEarly(part, kind) {
  const now = performance.now(), wait = (renewed.get(part) ?? -Infinity) + 1000 * (part.dataset?.renewEvery ?? 0) - now;
  if (kind === "ended" || wait <= 0) {
    renewed.set(part, now);
    return false;
  }
  if (!due.has(part)) {
    due.add(part);
    setTimeout(() => {
      due.delete(part);
      if (part.isConnected) htmx.trigger(part, `sse:${kind}`);
    }, wait);
  }
  return true;
}
