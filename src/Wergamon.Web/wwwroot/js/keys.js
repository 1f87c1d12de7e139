// Keys: / find, g + letter to a station, j and k through rows, x pick, Enter open, Space play, ? the list.
import { bringBelow } from "./more-rows.js";
import { listenKey } from "./listen.js";

const GO_WAIT_MS = 1500;

const rows = () => [...document.querySelectorAll("[data-row]")];
const currentRow = () => document.activeElement?.closest("[data-row]");
const isTyping = (element) => element.matches("input:not([type=checkbox], [type=radio], [type=range]), textarea, select, audio");

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

function go(letter) {
  const link = document.querySelector(`[data-go="${CSS.escape(letter)}"]`);
  if (link) location.assign(link.href);
}

const toPlayer = (name) => document.getElementById("player").dispatchEvent(new CustomEvent(name));

export function watchKeys() {
  let wentAt = -Infinity;
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
    if (document.querySelector("dialog[open]") && event.key !== "?") return;
    if (performance.now() - wentAt < GO_WAIT_MS && /^[a-z]$/.test(event.key)) {
      wentAt = -Infinity;
      go(event.key);
      event.preventDefault();
      return;
    }
    if (listenKey(event)) {
      event.preventDefault();
      return;
    }
    const onControl = event.target.matches("button, a, summary, input, [role=button]");
    const actions = {
      "/": () => document.getElementById("find").focus(),
      "g": () => { wentAt = performance.now(); },
      "?": () => document.getElementById("key-list").showModal(),
      "j": () => move(1),
      "k": () => move(-1),
      "ArrowDown": onControl && !currentRow() ? null : () => move(1),
      "ArrowUp": onControl && !currentRow() ? null : () => move(-1),
      "x": () => pick(false),
      "X": () => pick(true),
      "a": () => document
        .querySelector(document.querySelector("[data-drop-picks]:not([hidden])") ? "[data-drop-picks]" : "[data-pick-list]")
        ?.click(),
      ",": () => toPlayer("player-back"),
      ".": () => toPlayer("player-on"),
      "n": () => toPlayer("player-next"),
      "p": () => toPlayer("player-before"),
      "Enter": onControl ? null : () => currentRow()?.querySelector("[data-open-row]")?.click(),
      " ": onControl ? null : () => (currentRow()?.querySelector("[data-play]") ?? document.querySelector("[data-play]"))?.click(),
    };
    const action = actions[event.key];
    if (!action) return;
    action();
    event.preventDefault();
  });
}
