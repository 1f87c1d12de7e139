// A blind test: A, B and X play at once, and one of them is heard. Which of them X is, is not known here.
import { BenchSound } from "./bench-sound.js";
import { clock } from "./clock.js";
import { addKeys } from "./keys.js";

const STEP_S = 3;

const page = () => document.querySelector("[data-blind]");
const find = (name) => page().querySelector(`[data-blind-${name}]`);
const start = () => Number(page().dataset.from);
const end = () => Number(page().dataset.to);
let sound = null, place = null;

function show() {
  if (!page()) return;
  find("play").textContent = sound?.isPlaying ? "Stop" : "Play";
  find("seek").value = place;
  find("place").textContent = `${clock(place, 1)} of ${clock(end(), 1)}`;
  page().dataset.playing = sound?.isPlaying ? "1" : "";
}

function follow() {
  if (!page() || !sound?.isPlaying) {
    show();
    return;
  }
  if (sound.context) place = sound.place;
  show();
  requestAnimationFrame(follow);
}

function play(from = place) {
  const { blind, trial, rate, channels } = page().dataset;
  sound ??= new BenchSound(Number(rate), Number(channels), async (frame, count) => {
    const answer = await fetch(`/bench/blind/${blind}/samples?trial=${trial}&from=${frame}&count=${count}`).catch(() => null);
    return answer?.ok ? new Float32Array(await answer.arrayBuffer()) : null;
  }, (samples, signal, place, length) => samples[signal * length + place]);
  place = Math.min(Math.max(start(), from), end() - 0.05);
  sound.play(place, end(), { from: start(), to: end() });
  follow();
}

function toggle() {
  if (sound?.isPlaying) sound.stop();
  else play();
  show();
}

function hear(signal) {
  page().querySelectorAll("[data-blind-hear]").forEach((button) =>
    button.setAttribute("aria-pressed", String(Number(button.dataset.blindHear) === signal)));
  if (!sound?.isPlaying) play();
  sound.hear(signal);
}

function go(seconds) {
  place = Math.min(Math.max(start(), seconds), end() - 0.05);
  if (sound?.isPlaying) play(place);
  show();
}

export function watchBlind() {
  if (!page()) return;
  place = start();
  show();
  const say = (answer) => () => page().querySelector(`[data-blind-say='${answer}']`).click();
  addKeys({
    "a": () => hear(0), "b": () => hear(1), "x": () => hear(2),
    " ": (event) => (event.target.matches("button, a") ? false : toggle()),
    "ArrowLeft": () => go(place - STEP_S), "ArrowRight": () => go(place + STEP_S),
    "1": say(1), "2": say(2),
  }, { when: page });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-blind] button");
    if (!button) return;
    if ("blindPlay" in button.dataset) toggle();
    else if (button.dataset.blindHear) hear(Number(button.dataset.blindHear));
  });
  find("seek").addEventListener("input", (event) => go(Number(event.target.value)));
}
