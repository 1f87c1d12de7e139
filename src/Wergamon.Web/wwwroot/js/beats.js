// The waveform of a track with its beats and marks: zoom, place, grid.
import { clock } from "./clock.js";
import { colour } from "./colours.js";
import { addKeys } from "./keys.js";
import { nowPlaying, playFrom } from "./player.js";
import { drawWave, fetchWave, sheetOf } from "./waveform.js";

const LEAST_S = 0.2, LEAST_BEAT_PX = 7, EDGE_PX = 12, LABEL_PX = 90;

// A track whose file is missing has no waveform.
const page = () => document.querySelector("#beats:has([data-beat-canvas])");
const view = { from: 0, to: 1, place: 0, stretch: null, of: null };

/** The place that is chosen, in seconds. */
export const beatPlace = () => view.place;

let sent = Promise.resolve();

/** Sends a change of the track; the answer is the page anew. */
export function postToBeats(handler, values) {
  sent = sent.then(() => window.htmx.ajax("POST", `${document.getElementById("beats").dataset.beats}handler=${handler}`, {
    target: "#beats", select: "#beats", swap: "morph:outerHTML",
    values: {
      __RequestVerificationToken: document.querySelector("[data-order-form] input[name=__RequestVerificationToken]").value,
      ...values,
    },
  })).catch(() => {});
}

const length = () => Math.max(LEAST_S, Number(page().dataset.length));
const canvas = () => page().querySelector("[data-beat-canvas]");
const address = () => `/copies/${page().dataset.copyId}/play`;
const title = () => page().querySelector("h1").textContent;
const grid = () => page().dataset.grid?.split(" ").map(Number);
const marks = () => JSON.parse(page().dataset.marks);
const xOf = (seconds) => ((seconds - view.from) / (view.to - view.from)) * canvas().clientWidth;
const secondsAt = (x) => view.from + (x / canvas().clientWidth) * (view.to - view.from);

function drawLine(pen, x, height, name, width, dash = []) {
  pen.strokeStyle = colour(name);
  pen.lineWidth = width;
  pen.setLineDash(dash);
  pen.beginPath();
  pen.moveTo(Math.round(x) + 0.5, 0);
  pen.lineTo(Math.round(x) + 0.5, height);
  pen.stroke();
}

function drawBeats(pen, height) {
  const beats = grid();
  if (!beats) return;
  const period = 60 / beats[0];
  let step = 1;
  while (xOf(step * period) - xOf(0) < LEAST_BEAT_PX) step *= 4;
  for (let beat = Math.ceil((Math.max(0, view.from) - beats[1]) / period / step) * step;
    beats[1] + beat * period <= Math.min(view.to, length()); beat += step) {
    drawLine(pen, xOf(beats[1] + beat * period), height, beat % 4 === 0 ? "--slate-2" : "--edge", 1, [3, 3]);
  }
}

function drawMarks(pen, height) {
  pen.font = `12px ${getComputedStyle(canvas()).fontFamily}`;
  let free = -Infinity;
  marks().forEach(([seconds, name], index) => {
    const x = xOf(seconds);
    if (x < -LABEL_PX || x > canvas().clientWidth) return;
    drawLine(pen, x, height, "--slate", 2);
    const label = name || String(index + 1);
    const width = pen.measureText(label).width + 10;
    if (x < free) return;
    pen.fillStyle = colour("--slate");
    pen.fillRect(Math.round(x), 0, width, 18);
    pen.fillStyle = colour("--sheet");
    pen.fillText(label, Math.round(x) + 5, 13);
    free = x + width + 4;
  });
}

function draw() {
  if (!page() || !canvas()) return;
  const sheet = sheetOf(canvas()), [pen, , height] = sheet, ink = colour("--slate-3");
  drawBeats(pen, height);
  if (view.stretch) drawWave(sheet, view.stretch, view, () => ink);
  drawMarks(pen, height);
  drawLine(pen, xOf(view.place), height, "--lamp", 2);
  page().querySelector("[data-beat-place]").textContent = clock(view.place, 2);
  if (view.stretch) canvas().dataset.there = "1";
}

let waiting = 0;

/** Fetches what is shown and as much on either side; the last stretch is drawn until it has come. */
function fetchStretch() {
  clearTimeout(waiting);
  waiting = setTimeout(async () => {
    const span = view.to - view.from;
    const [from, to, copy] = [view.from - span, view.to + span, page().dataset.copyId];
    const columns = Math.min(8000, 3 * Math.max(1, canvas().clientWidth));
    const stretch = await fetchWave(`/copies/${copy}/stretch?from=${from}&to=${to}&columns=${columns}`, from, to);
    if (!stretch || page()?.dataset.copyId !== copy) return;
    view.stretch = stretch;
    draw();
  }, 40);
}

function show(from, to) {
  const span = Math.min(length(), Math.max(LEAST_S, to - from));
  view.from = Math.min(Math.max(0, from), length() - span);
  view.to = view.from + span;
  const { stretch } = view;
  const each = stretch && (stretch.to - stretch.from) / stretch.count, wanted = span / canvas().clientWidth;
  if (!stretch || view.from < stretch.from || view.to > stretch.to || each > 1.5 * wanted) fetchStretch();
  draw();
}

function zoom(factor, around) {
  const share = (around - view.from) / (view.to - view.from);
  const span = Math.min(length(), Math.max(LEAST_S, (view.to - view.from) * factor));
  show(around - share * span, around + (1 - share) * span);
}

function go(seconds) {
  view.place = Math.min(length(), Math.max(0, seconds));
  const edge = EDGE_PX / canvas().clientWidth * (view.to - view.from);
  if (view.place < view.from || view.place > view.to - edge) {
    const span = view.to - view.from;
    show(view.place - span / 4, view.place + (3 * span) / 4);
  } else draw();
  if (nowPlaying()?.address === address()) playFrom(address(), title(), view.place);
}

let isFollowing = false;

/** While the track plays, its place is the chosen one. */
function follow() {
  isFollowing = Boolean(page());
  if (!isFollowing) return;
  const playing = nowPlaying();
  if (playing && playing.address === address() && !playing.isPaused) {
    view.place = playing.seconds;
    if (view.place > view.to) show(view.place, view.place + view.to - view.from);
    else draw();
  }
  requestAnimationFrame(follow);
}

function setUp() {
  if (!page()) return;
  if (view.of !== page().dataset.copyId) {
    Object.assign(view, { of: page().dataset.copyId, place: 0, stretch: null });
    show(0, length());
  } else show(view.from, view.to);
  if (!isFollowing) follow();
}

const snap = () => Boolean(document.querySelector("[data-beat-snap]")?.checked);

export function watchBeats() {
  let grabbed = null;
  document.addEventListener("wheel", (event) => {
    const sheet = event.target.closest?.("[data-beat-view]");
    if (!sheet) return;
    event.preventDefault();
    const span = view.to - view.from;
    if (Math.abs(event.deltaX) > Math.abs(event.deltaY) || event.shiftKey) {
      const by = ((event.deltaX || event.deltaY) / canvas().clientWidth) * span;
      show(view.from + by, view.to + by);
    } else zoom(event.deltaY > 0 ? 1.25 : 0.8, secondsAt(event.offsetX));
  }, { passive: false });
  document.addEventListener("pointerdown", (event) => {
    if (event.target.closest?.("[data-beat-view]") && event.button === 0)
      grabbed = { x: event.clientX, from: view.from, to: view.to, isMoved: false };
  });
  document.addEventListener("pointermove", (event) => {
    if (!grabbed) return;
    const moved = grabbed.x - event.clientX;
    if (Math.abs(moved) > 3) grabbed.isMoved = true;
    if (!grabbed.isMoved) return;
    const by = (moved / canvas().clientWidth) * (grabbed.to - grabbed.from);
    show(grabbed.from + by, grabbed.to + by);
  });
  document.addEventListener("pointerup", (event) => {
    if (grabbed && !grabbed.isMoved && page()) go(secondsAt(event.clientX - canvas().getBoundingClientRect().left));
    grabbed = null;
  });
  const step = (direction) => (event) => go(view.place + direction * (event.shiftKey ? 0.01 : grid() ? 60 / grid()[0] : 1));
  addKeys({
    ArrowLeft: step(-1), ArrowRight: step(1), Home: () => go(0), End: () => go(length()),
    "+": () => zoom(0.5, view.place), "-": () => zoom(2, view.place),
  }, { when: (target) => target.closest("[data-beat-view]") });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("#beats button");
    if (!button) return;
    const { beatZoom, beatDo, beatGo } = button.dataset;
    if (beatDo) postToBeats(beatDo, Object.fromEntries(new URLSearchParams(button.dataset.with ?? "")));
    if (!page()) return;
    if (beatZoom === "whole") show(0, length());
    else if (beatZoom) zoom(Number(beatZoom), view.place);
    if (beatGo) go(Number(beatGo));
    if ("beatMark" in button.dataset) postToBeats("Mark", { at: view.place.toFixed(3), snap: snap() });
    if ("beatHere" in button.dataset) postToBeats("Beat", { seconds: view.place.toFixed(4) });
  });
  document.body.addEventListener("htmx:afterSettle", setUp);
  addEventListener("resize", draw);
  setUp();
}
