// Times of lines of lyrics from the player, and keys of the comment scheme.
import { clock } from "./clock.js";
import { addKeys } from "./keys.js";

const TIME = /^\[\d{1,3}:\d{2}(?:[.:]\d{1,3})?\]\s*/;

function stamp(area) {
  const seconds = document.getElementById("player-sound").currentTime;
  const time = `[${clock(seconds, 2).padStart("00:00.00".length, "0")}] `;
  const start = area.value.lastIndexOf("\n", area.selectionStart - 1) + 1;
  const found = area.value.indexOf("\n", area.selectionStart);
  const end = found < 0 ? area.value.length : found;
  const line = time + area.value.slice(start, end).replace(TIME, "");
  area.setRangeText(line, start, end, "end");
  const next = Math.min(area.value.length, start + line.length + 1);
  area.setSelectionRange(next, next);
  area.focus();
}

export function watchLyrics() {
  document.addEventListener("click", (event) => {
    const area = document.getElementById("lyrics");
    if (event.target.closest?.("[data-stamp]")) stamp(area);
    if (event.target.closest?.("[data-untime]")) area.value = area.value.split("\n").map((line) => line.replace(TIME, "")).join("\n");
  });
  addKeys({ "Ctrl+Enter": (event) => stamp(event.target) }, { when: (target) => target.id === "lyrics", isInFields: true });
  // The keys that the person has chosen for the parts of the scheme.
  addKeys((key) => (event) => {
    const row = event.target.closest(".comment-rows [data-row]");
    const button = row.querySelector(`[data-key="${CSS.escape(key)}"]`);
    if (!button) return false;
    document.body.dataset.commentRow = row.id;
    button.click();
    return true;
  }, { when: (target) => target.closest(".comment-rows [data-row]") });
  document.body.addEventListener("htmx:afterSettle", () => {
    const row = document.getElementById(document.body.dataset.commentRow ?? "");
    delete document.body.dataset.commentRow;
    row?.focus();
  });
}
