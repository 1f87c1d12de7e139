// The keyboard: which keys hold where. Each module adds its keys here; the last map that was added is asked first. Only the tag sheet, into
// which everything can be typed, has keys of its own.
import { bringBelow } from "./more-rows.js";

const GO_WAIT_MS = 1500;

const maps = [];
let wentAt = -Infinity;

/**
 * Adds keys. They are named as in KeyboardEvent.key, with "Ctrl+" (the command key, too) and "Alt+" before it, or by KeyboardEvent.code;
 * an action receives the event and may return false for a key that it does not take after all.
 * @param keys actions by name, or what gives the action for a name
 * @param when where they hold, by the element with the focus
 * @param isInFields true where they hold while something is typed
 * @param isInDialogs true where they hold while a dialog is open
 */
export function addKeys(keys, { when = () => true, isInFields = false, isInDialogs = false } = {}) {
  maps.unshift({ keys, when, isInFields, isInDialogs });
}

const isTyping = (element) => element.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea, select, audio");

const actionOf = (keys, name) => (keys instanceof Function ? keys(name) : Object.hasOwn(keys, name) ? keys[name] : null);

function take(event) {
  const name = (event.ctrlKey || event.metaKey ? "Ctrl+" : "") + (event.altKey ? "Alt+" : "") + event.key;
  const [isInFields, isInDialog] = [isTyping(event.target), Boolean(document.querySelector("dialog[open]"))];
  return maps.some((map) => {
    const action = actionOf(map.keys, name) ?? (name === event.key ? actionOf(map.keys, event.code) : null);
    return action && (map.isInFields || !isInFields) && (map.isInDialogs || !isInDialog) && map.when(event.target)
      && action(event) !== false;
  });
}

const rows = () => [...document.querySelectorAll("[data-row]")];
const currentRow = () => document.activeElement?.closest("[data-row]");
const isControl = (element) => element.matches("button, a, summary, input, [role=button]");

function move(step) {
  const all = rows();
  if (all.length === 0) return;
  const at = all.indexOf(currentRow());
  if (at >= 0 && at === all.length - 1 && step > 0 && bringBelow(all[at])) return;
  const next = at < 0 ? (step > 0 ? 0 : all.length - 1) : Math.min(all.length - 1, Math.max(0, at + step));
  all[next].focus();
  all[next].scrollIntoView({ block: "nearest" });
}

function pick(withRange) {
  const box = currentRow()?.querySelector("input[type=checkbox]");
  box?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, shiftKey: withRange }));
}

const toPlayer = (name) => () => document.getElementById("player").dispatchEvent(new CustomEvent(name));
const byArrow = (step) => (event) => (isControl(event.target) && !currentRow() ? false : move(step));
const unlessControl = (action) => (event) => (isControl(event.target) ? false : action());

export function watchKeys() {
  addKeys({
    "/": () => document.getElementById("find").focus(),
    "g": () => { wentAt = performance.now(); },
    "j": () => move(1),
    "k": () => move(-1),
    "ArrowDown": byArrow(1),
    "ArrowUp": byArrow(-1),
    "x": () => pick(false),
    "X": () => pick(true),
    "a": () => document
      .querySelector(document.querySelector("[data-drop-picks]:not([hidden])") ? "[data-drop-picks]" : "[data-pick-list]")
      ?.click(),
    ",": toPlayer("player-back"),
    ".": toPlayer("player-on"),
    "n": toPlayer("player-next"),
    "p": toPlayer("player-before"),
    "Enter": unlessControl(() => currentRow()?.querySelector("[data-open-row]")?.click()),
    " ": unlessControl(() => (currentRow()?.querySelector("[data-play]") ?? document.querySelector("[data-play]"))?.click()),
  });
  addKeys({ "?": () => {
    const list = document.getElementById("key-list");
    if (!list.open) list.showModal();
  } }, { isInDialogs: true });
  document.addEventListener("keydown", (event) => {
    if (take(event)) event.preventDefault();
  });
}

function toStation(event) {
  wentAt = -Infinity;
  const link = document.querySelector(`[data-go="${CSS.escape(event.key)}"]`);
  if (link) location.assign(link.href);
}

/** The letter after g leads to a station, whatever it means otherwise: this map is added last. */
export function watchStationKeys() {
  addKeys((name) => (/^[a-z]$/.test(name) ? toStation : null), { when: () => performance.now() - wentAt < GO_WAIT_MS });
}
