// A comparison on the Bench: one axis of time for both waveforms and what is left, with zoom, marked stretch, spectra and sound.
import { BenchSound } from "./bench-sound.js";
import { drawRuler, drawSignal, drawSpectrogram, drawSpectrum } from "./bench-draw.js";
import { clock } from "./clock.js";
import { addKeys } from "./keys.js";

const LEAST_S = 0.002, LEAST_PAGE_S = 1, FETCH_MS = 40, SPECTRUM_MS = 150, SIGNALS = ["First", "Second", "Residue"],
  COLOURS = ["--slate", "--slate-2", "--lossy"];

const page = () => document.querySelector("[data-bench]:not([data-bench=''])");
const find = (name) => page().querySelector(`[data-bench-${name}]`);
const view = { of: null, from: 0, to: 1, place: 0, marked: null, wave: null, gram: null };
let sound = null, heard = 0;

const start = () => Number(page().dataset.from);
const end = () => Number(page().dataset.to);
const whole = () => Math.max(LEAST_S, end() - start());
const gain = () => 10 ** ((Number(find("gain").value) || 0) / 20);
const address = (rest) => `/bench/tests/${page().dataset.bench}/${rest}`;
const wide = () => find("wave").clientWidth || 1;
const secondsAt = (x) => view.from + (x / wide()) * (view.to - view.from);
const gramOf = () => find("gram-choice").value;

function draw() {
  if (!page()) return;
  drawRuler(find("ruler"), view.from, view.to);
  page().querySelectorAll("[data-bench-wave]").forEach((canvas) => {
    const signal = Number(canvas.dataset.benchWave);
    drawSignal(canvas, view.wave, signal, view, signal === 2 ? gain() : 1, COLOURS[signal]);
  });
  if (gramOf() !== "") drawSpectrogram(find("gram-sheet"), view.gram, view, COLOURS[gramOf() === "2" ? 2 : 0]);
  find("place").textContent = `${clock(view.place, 2)} of ${clock(end(), 2)}`;
  const louder = Number(find("gain").value) || 0;
  find("louder").textContent = louder ? `shown and heard ${louder} dB louder` : "as it is";
  Object.assign(page().dataset, { shownFrom: view.from, shownTo: view.to });
  if (view.wave) page().dataset.there = "1";
}

const waiting = {};

/** Fetches once a moment has passed without another wish of the same kind. */
function later(kind, milliseconds, action) {
  clearTimeout(waiting[kind]);
  waiting[kind] = setTimeout(action, milliseconds);
}

async function fetchBytes(rest) {
  const of = page().dataset.bench;
  const answer = await fetch(address(rest)).catch(() => null);
  return answer?.ok && page()?.dataset.bench === of ? answer.arrayBuffer() : null;
}

/** What is shown and as much on either side; the last stretch is drawn until it has come. */
function fetchShown() {
  later("wave", FETCH_MS, async () => {
    if (!page()) return;
    const span = view.to - view.from, [from, to] = [view.from - span, view.to + span];
    const bytes = await fetchBytes(`waveform?from=${from}&to=${to}&columns=${Math.min(8000, 3 * Math.round(wide() * devicePixelRatio))}`);
    if (!bytes) return;
    view.wave = { from, to, columns: new Float32Array(bytes) };
    draw();
  });
  if (gramOf() !== "") later("gram", FETCH_MS * 2, fetchGram);
}

async function fetchGram() {
  if (!page() || gramOf() === "") return;
  const [from, to, of] = [view.from, view.to, gramOf()];
  const columns = Math.min(1024, Math.max(64, Math.round(wide() / 2)));
  const bytes = await fetchBytes(`spectrogram?of=${SIGNALS[of]}&from=${from}&to=${to}&columns=${columns}`);
  if (!bytes || of !== gramOf()) return;
  view.gram = { from, to, levels: new Uint8Array(bytes) };
  draw();
}

/** The spectrum of the marked stretch, or of the whole. */
function showSpectrum() {
  const { marked } = view;
  page().querySelector("[data-bench-zoom=marked]").disabled = !marked;
  later("spectrum", SPECTRUM_MS, async () => {
    if (!page()) return;
    let levels = JSON.parse(find("levels").textContent);
    if (marked) {
      const answer = await fetch(address(`spectrum?from=${marked.from}&to=${marked.to}`)).catch(() => null);
      if (!answer?.ok || marked !== view.marked || !page()) return;
      levels = await answer.json();
    }
    find("spectrum-of").textContent = marked
      ? `Mean spectrum from ${clock(marked.from, 2)} to ${clock(marked.to, 2)}.`
      : "Mean spectrum of the whole file; select a range above to see only that.";
    view.levels = levels;
    drawSpectrum(find("spectrum"), levels);
  });
}

function show(from, to) {
  const span = Math.min(whole(), Math.max(LEAST_S, to - from));
  view.from = Math.min(Math.max(start(), from), end() - span);
  view.to = view.from + span;
  const { wave } = view;
  const each = wave && (wave.to - wave.from) / (wave.columns.length / 6), wanted = span / wide();
  if (!wave || view.from < wave.from || view.to > wave.to || each > 1.5 * wanted) fetchShown();
  else if (gramOf() !== "") later("gram", FETCH_MS * 2, fetchGram);
  draw();
}

function zoom(factor, around) {
  const share = (around - view.from) / (view.to - view.from), span = Math.min(whole(), Math.max(LEAST_S, (view.to - view.from) * factor));
  show(around - share * span, around + (1 - share) * span);
}

function go(seconds) {
  view.place = Math.min(end(), Math.max(start(), seconds));
  if (view.place < view.from || view.place > view.to)
    show(view.place - (view.to - view.from) / 4, view.place + (3 * (view.to - view.from)) / 4);
  else draw();
  if (sound?.isPlaying) play();
}

function mark(from, to) {
  const [low, high] = [Math.max(start(), Math.min(from, to)), Math.min(end(), Math.max(from, to))];
  view.marked = high - low > LEAST_S / 2 ? { from: low, to: high } : null;
  draw();
  showSpectrum();
}

function play() {
  sound ??= new BenchSound(Number(page().dataset.rate), Number(page().dataset.channels), async (frame, count) => {
    const bytes = page() && await fetchBytes(`samples?from=${frame}&count=${count}`);
    return bytes ? new Float32Array(bytes) : null;
  }, (samples, signal, place, length) => (signal === 2 ? samples[place] - samples[length + place] : samples[signal * length + place]));
  sound.heard = heard;
  sound.residueGain = gain();
  const loop = find("loop").checked ? view.marked ?? { from: start(), to: end() } : null;
  const from = view.place >= end() - 0.01 ? start() : view.place;
  sound.play(loop && (from < loop.from || from >= loop.to) ? loop.from : from, end(), loop);
  follow();
}

function toggle() {
  if (sound?.isPlaying) sound.stop();
  else play();
  showPlaying();
}

function showPlaying() {
  if (!page()) return;
  find("play").textContent = sound?.isPlaying ? "Stop" : "Play";
  page().dataset.playing = sound?.isPlaying ? "1" : "";
}

let isFollowing = false;

function follow() {
  if (isFollowing) return;
  isFollowing = true;
  const step = () => {
    if (!page() || !sound?.isPlaying) {
      isFollowing = false;
      sound?.stop();
      showPlaying();
      return;
    }
    if (sound.context) {
      view.place = sound.place;
      const isOutside = view.place > view.to || view.place < view.from;
      // What is looked at very closely stays in view.
      if (isOutside && view.to - view.from > LEAST_PAGE_S) show(view.place, view.place + view.to - view.from);
      else draw();
    }
    showPlaying();
    requestAnimationFrame(step);
  };
  requestAnimationFrame(step);
}

function hear(signal) {
  page().querySelectorAll("[data-bench-hear]").forEach((button) =>
    button.setAttribute("aria-pressed", String(Number(button.dataset.benchHear) === signal)));
  heard = signal;
  if (!sound?.isPlaying) play();
  sound.hear(signal);
}

function setUp() {
  if (!page()) return;
  if (view.of !== page().dataset.bench) {
    sound?.stop();
    [sound, heard] = [null, 0];
    Object.assign(view, { of: page().dataset.bench, place: start(), marked: null, wave: null, gram: null });
    show(start(), end());
    showSpectrum();
  } else draw();
}

/** Moves the place by a fortieth of what is shown; with Shift, the end of the marked stretch. */
const step = (direction) => (event) => {
  const by = direction * (view.to - view.from) / 40;
  if (event.shiftKey) mark(view.marked?.from ?? view.place, (view.marked?.to ?? view.place) + by);
  else go(view.place + by);
};

const KEYS = {
  ArrowLeft: step(-1), ArrowRight: step(1),
  PageUp: () => show(view.from - (view.to - view.from) / 2, view.to - (view.to - view.from) / 2),
  PageDown: () => show(view.from + (view.to - view.from) / 2, view.to + (view.to - view.from) / 2),
  Home: () => go(start()), End: () => go(end()),
  "+": () => zoom(0.5, view.place), "-": () => zoom(2, view.place),
  " ": toggle, 1: () => hear(0), 2: () => hear(1), 3: () => hear(2),
  l: () => find("loop").click(), Escape: () => mark(0, 0),
};

export function watchBench() {
  let grabbed = null;
  document.addEventListener("wheel", (event) => {
    const canvas = event.target.closest?.("[data-bench-view] canvas");
    if (!canvas) return;
    event.preventDefault();
    const span = view.to - view.from;
    if (Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey) {
      const by = ((event.deltaX || event.deltaY) / wide()) * span;
      show(view.from + by, view.to + by);
    } else zoom(event.deltaY > 0 ? 1.25 : 0.8, secondsAt(event.offsetX));
  }, { passive: false });
  document.addEventListener("pointerdown", (event) => {
    const canvas = event.target.closest?.("[data-bench-view] canvas");
    if (!canvas || event.button !== 0) return;
    grabbed = { canvas, x: event.clientX, seconds: secondsAt(event.offsetX), from: view.from, to: view.to,
      isPan: "benchRuler" in canvas.dataset || event.altKey, isMoved: false };
  });
  document.addEventListener("pointermove", (event) => {
    if (!grabbed) return;
    const moved = event.clientX - grabbed.x;
    if (Math.abs(moved) > 3) grabbed.isMoved = true;
    if (!grabbed.isMoved) return;
    const by = (moved / wide()) * (grabbed.to - grabbed.from);
    if (grabbed.isPan) show(grabbed.from - by, grabbed.to - by);
    else mark(grabbed.seconds, secondsAt(event.clientX - grabbed.canvas.getBoundingClientRect().left));
  });
  document.addEventListener("pointerup", () => {
    if (grabbed && page()) {
      if (!grabbed.isMoved) {
        mark(0, 0);
        go(grabbed.seconds);
      } else if (!grabbed.isPan && view.marked) go(view.marked.from);
    }
    grabbed = null;
  });
  addKeys(KEYS, { when: (target) => page() && target.closest("[data-bench-view]") && !target.matches("input, select, button") });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-bench] button");
    if (!button || !page()) return;
    const { benchZoom, benchHear, place } = button.dataset;
    if ("benchPlay" in button.dataset) toggle();
    else if (benchHear) hear(Number(benchHear));
    else if (benchZoom === "whole") show(start(), end());
    else if (benchZoom === "marked") show(view.marked.from, view.marked.to);
    else if (benchZoom === "peak") {
      show(Number(place) - 0.05, Number(place) + 0.05);
      go(Number(place));
    } else if (benchZoom) zoom(Number(benchZoom), view.place);
  });
  document.addEventListener("input", (event) => {
    if (!event.target.closest?.("[data-bench]") || !page()) return;
    if (event.target.matches("[data-bench-gain]")) {
      if (sound) {
        sound.residueGain = gain();
        sound.level();
      }
      draw();
    }
    if (event.target.matches("[data-bench-gram-choice]")) {
      find("gram").hidden = gramOf() === "";
      view.gram = null;
      find("gram-of").textContent = gramOf() === "2" ? "of the residue" : gramOf() === "1" ? "of B" : "of A";
      fetchShown();
      draw();
    }
    if (event.target.matches("[data-bench-loop]") && sound?.isPlaying) play();
  });
  document.body.addEventListener("htmx:afterSettle", setUp);
  addEventListener("resize", () => {
    if (!page()) return;
    draw();
    if (view.levels) drawSpectrum(find("spectrum"), view.levels);
  });
  setUp();
}
