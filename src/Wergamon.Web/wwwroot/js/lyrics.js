// Times of lines of lyrics from the player, and keys of the comment scheme.
const TIME = /^\[\d{1,3}:\d{2}(?:[.:]\d{1,3})?\]\s*/;

function stamp(area) {
  const seconds = document.getElementById("player-sound").currentTime;
  const time = `[${String(Math.floor(seconds / 60)).padStart(2, "0")}:${(seconds % 60).toFixed(2).padStart(5, "0")}] `;
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
  document.addEventListener("keydown", (event) => {
    if (event.target.id === "lyrics" && event.key === "Enter" && event.ctrlKey) {
      stamp(event.target);
      event.preventDefault();
      return;
    }
    const row = event.target.closest?.(".comment-rows [data-row]");
    if (!row || event.ctrlKey || event.altKey || event.metaKey) return;
    const button = row.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (!button) return;
    document.body.dataset.commentRow = row.id;
    button.click();
    event.preventDefault();
    event.stopPropagation();
  }, true);
  document.body.addEventListener("htmx:afterSettle", () => {
    const row = document.getElementById(document.body.dataset.commentRow ?? "");
    delete document.body.dataset.commentRow;
    row?.focus();
  });
}
