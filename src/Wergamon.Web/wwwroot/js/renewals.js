// Parts of a page that are fetched anew when something they show has changed:
//   data-renew="/address"         where from; hx-target, hx-select and hx-swap say what the answer replaces
//   data-renew-on="runs ended"    the kinds of messages after which
//   data-renew-every="5"          at most once in so many seconds, the last time after the last message; the end of a run shows at once
// A part is asked for once at a time. What is told meanwhile is asked for afterwards, so the last answer is the newest.
const states = new Map();

// A renewal may put another element in the place of a part, so parts are known by their ids.
function stateOf({ id }) {
  if (!states.has(id)) states.set(id, { began: -Infinity, isUnderWay: false, isAwaited: false, isUrgent: false, due: 0 });
  return states.get(id);
}

export function renew(part, isUrgent = true) {
  // What has come to its end is no longer renewed.
  if (!part?.dataset.renew || part.closest("dialog:not([open])")) return;
  const state = stateOf(part);
  if (state.isUnderWay) {
    state.isAwaited = true;
    state.isUrgent ||= isUrgent;
    return;
  }
  const wait = state.began + 1000 * (part.dataset.renewEvery ?? 0) - performance.now();
  if (isUrgent || wait <= 0) fetchAnew(part, state);
  else state.due ||= setTimeout(() => { state.due = 0; renew(document.getElementById(part.id)); }, wait);
}

async function fetchAnew(part, state) {
  clearTimeout(state.due);
  Object.assign(state, { began: performance.now(), isUnderWay: true, isAwaited: false, isUrgent: false, due: 0 });
  try {
    await htmx.ajax("GET", part.dataset.renew, { source: part });
  } catch {
    // The server did not answer, which htmx has told; the next message asks again.
  }
  state.isUnderWay = false;
  if (state.isAwaited) renew(document.getElementById(part.id), state.isUrgent);
}

export function watchRenewals() {
  document.addEventListener("told", ({ detail: { kind } }) => {
    document.querySelectorAll(`[data-renew-on~="${kind}"]`).forEach((part) => renew(part, kind === "ended"));
  });
}
