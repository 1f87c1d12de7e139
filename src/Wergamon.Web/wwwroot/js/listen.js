// Listening through a set: ratings, energy, comment and marks of what plays, by keys alone.
import { addKeys } from "./keys.js";
import { nowPlaying, playFrom } from "./player.js";
import { postOrder } from "./order.js";
import { postToBeats, beatPlace } from "./beats.js";

const NEAR_S = 1;

const player = () => document.getElementById("player");
const onBeats = () => document.getElementById("beats");
const onSet = () => document.getElementById("set");

/** The row of what plays, else the one with the focus, else the chosen one; on the page of a track that page itself. */
function current() {
  if (onBeats()) return onBeats();
  const playing = nowPlaying();
  const button = playing && document.querySelector(`[data-row] [data-play="${CSS.escape(playing.address)}"]`);
  return button?.closest("[data-row]") ?? document.activeElement?.closest("[data-row]") ?? document.querySelector(".is-place [data-row]");
}

const marksOf = (place) => (place === onBeats()
  ? JSON.parse(place.dataset.marks).map(([seconds]) => seconds)
  : place.dataset.marks.split(" ").filter((mark) => mark).map(Number));

const addressOf = (place) => (place.dataset.copyId
  ? `/copies/${place.dataset.copyId}/play`
  : place.querySelector("[data-play]")?.dataset.play);
const titleOf = (place) => document.querySelector("#beats h1")?.textContent ?? place.querySelector(".row-title").textContent;

function note(values) {
  const place = current();
  if (!place) return;
  if (onBeats()) postToBeats("Note", values);
  else postOrder("Note", { trackId: place.dataset.track, ...values });
}

function comment() {
  const place = current();
  if (!place) return;
  const dialog = document.getElementById("track-comment");
  dialog.dataset.track = place.dataset.track;
  dialog.querySelector("[data-comment-title]").textContent = titleOf(place);
  dialog.querySelector("input").value = place.dataset.comment ?? "";
  dialog.showModal();
  dialog.querySelector("input").select();
}

function toMark(step) {
  const place = current();
  const address = place && addressOf(place);
  if (!address) return;
  const playing = nowPlaying();
  const at = playing?.address === address ? playing.seconds : onBeats() ? beatPlace() : 0;
  const marks = marksOf(place).sort((a, b) => a - b);
  const next = step > 0 ? marks.find((mark) => mark > at + 0.05) : marks.findLast((mark) => mark < at - NEAR_S);
  if (next !== undefined) playFrom(address, titleOf(place), next);
}

function mark() {
  const place = current();
  const playing = nowPlaying();
  if (onBeats()) {
    document.querySelector("[data-beat-mark]").click();
    return;
  }
  if (place && playing && addressOf(place) === playing.address)
    postOrder("Mark", { trackId: place.dataset.track, seconds: playing.seconds });
}

/** A digit rates; with Shift, by which layouts write other characters, it says the energy. */
const digit = (number) => (event) => {
  if (!event.shiftKey) note({ rating: number });
  else if (number > 0) note({ energy: number });
  else return false;
  return true;
};

export function watchListening() {
  const digits = Object.fromEntries([0, 1, 2, 3, 4, 5].map((number) => [`Digit${number}`, digit(number)]));
  addKeys({ ...digits, "c": comment, "m": mark, "[": () => toMark(-1), "]": () => toMark(1) }, { when: () => onSet() || onBeats() });
  addKeys({ "t": () => player().dispatchEvent(new CustomEvent("player-joint")) }, { when: onSet });
  document.addEventListener("submit", (event) => {
    const form = event.target.closest("[data-comment-form]");
    if (!form) return;
    const values = { hasComment: true, comment: form.elements.comment.value };
    const track = form.closest("dialog").dataset.track;
    if (onBeats()) postToBeats("Note", values);
    else postOrder("Note", { trackId: track, ...values });
  });
}
