// Plays a copy at the foot of the page; the same button stops it. Seeks in the waveform.
import { bringBelow } from "./more-rows.js";
import { addKeys } from "./keys.js";
import { clock } from "./clock.js";
import { drawPlayed, fetchWave } from "./waveform.js";

const STEP_S = 10, JOINT_S = 10;
const KEPT_VOLUME = "volume";

/** What plays, for other modules: its address, the place and the length in seconds; null when nothing does. */
export let nowPlaying = () => null;

/** Goes to a place in what plays; starts a copy first if it is another one. */
export let playFrom = () => {};

export function watchPlayer() {
  const [player, sound, title, pause, seek, canvas, time, volume] =
    ["player", "player-sound", "player-title", "player-pause", "player-seek", "player-wave", "player-time", "player-volume"]
      .map((id) => document.getElementById(id));
  let playing = null;
  let waveform = null;

  const buttons = () => [...document.querySelectorAll("[data-row] [data-play]")];
  const length = () => (Number.isFinite(sound.duration) ? sound.duration : 0);
  const draw = () => {
    if (player.hidden) return;
    drawPlayed(canvas, waveform, length() ? sound.currentTime / length() : 0);
    time.textContent = `${clock(sound.currentTime)} of ${clock(length())}`;
    seek.setAttribute("aria-valuemax", Math.round(length()));
    seek.setAttribute("aria-valuenow", Math.round(sound.currentTime));
    seek.setAttribute("aria-valuetext", time.textContent);
  };
  const show = () => {
    document.querySelectorAll("[data-play]").forEach((button) => {
      button.textContent = button.dataset.play === playing ? "Stop" : "Play";
    });
    pause.textContent = playing && sound.paused ? "Resume" : "Pause";
    pause.disabled = !playing;
  };
  const stop = () => {
    sound.pause();
    playing = null;
    show();
  };
  const failed = (name, failure) => {
    // Stopping before data arrived, or a browser that blocks autoplay, is not a failure of the file.
    if (failure.name === "AbortError") return;
    if (failure.name === "NotSupportedError") title.textContent = `${name} cannot be played by this browser`;
    stop();
  };
  const start = (button) => {
    playing = button.dataset.play;
    title.textContent = button.dataset.title;
    player.hidden = false;
    waveform = null;
    sound.src = playing;
    sound.play().catch((failure) => failed(button.dataset.title, failure));
    show();
    draw();
    const wanted = playing;
    const outline = /^\/copies\/\d+\/play$/.test(wanted) ? fetchWave(wanted.replace(/play$/, "waveform"), 0, 1) : Promise.resolve(null);
    outline.then((found) => { if (playing === wanted) { waveform = found; draw(); } });
  };
  const go = (seconds) => {
    if (!length()) return;
    sound.currentTime = Math.min(length() - 0.01, Math.max(0, seconds));
    draw();
  };
  nowPlaying = () => playing && {
    address: playing, title: title.textContent, seconds: sound.currentTime, length: length(), isPaused: sound.paused,
  };
  playFrom = (address, name, seconds) => {
    if (address === playing && length()) { go(seconds); return; }
    start({ dataset: { play: address, title: name } });
    sound.addEventListener("loadedmetadata", () => go(seconds), { once: true });
  };
  // Hearing how one ends and the next begins stops by itself, unless the person goes elsewhere.
  let joint = null;
  const hearJoint = () => {
    if (!length() || !neighbour(1)) return;
    go(length() - JOINT_S);
    joint = { from: playing, to: neighbour(1).dataset.play };
    if (sound.paused) sound.play().catch((failure) => failed(title.textContent, failure));
  };
  // The next or previous button in view.
  const neighbour = (step) => {
    const all = buttons();
    const at = all.findIndex((button) => button.dataset.play === playing);
    return at < 0 ? undefined : all[at + step];
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-play]");
    if (!button) return;
    if (button.dataset.play === playing) stop();
    else start(button);
  });
  pause.addEventListener("click", () => {
    if (sound.paused) sound.play().catch((failure) => failed(title.textContent, failure));
    else sound.pause();
  });
  document.getElementById("player-close").addEventListener("click", () => { stop(); player.hidden = true; });
  seek.addEventListener("pointerdown", (event) => {
    const place = seek.getBoundingClientRect();
    go(((event.clientX - place.left) / place.width) * length());
  });
  addKeys({
    ArrowLeft: () => go(sound.currentTime - STEP_S / 2), ArrowRight: () => go(sound.currentTime + STEP_S / 2),
    Home: () => go(0), End: () => go(length()),
  }, { when: (target) => target === seek });
  volume.value = localStorage.getItem(KEPT_VOLUME) ?? 100;
  sound.volume = volume.value / 100;
  volume.addEventListener("input", () => {
    sound.volume = volume.value / 100;
    localStorage.setItem(KEPT_VOLUME, volume.value);
  });
  player.addEventListener("player-back", () => go(sound.currentTime - STEP_S));
  player.addEventListener("player-on", () => go(sound.currentTime + STEP_S));
  const isBelowToCome = () => buttons().at(-1)?.dataset.play === playing && bringBelow(buttons().at(-1));
  const startNeighbour = (step) => {
    const next = neighbour(step);
    if (next) start(next);
    else if (step > 0 && isBelowToCome()) document.body.addEventListener("htmx:afterSettle", () => startNeighbour(step), { once: true });
  };
  player.addEventListener("player-joint", hearJoint);
  player.addEventListener("player-next", () => startNeighbour(1));
  player.addEventListener("player-before", () => startNeighbour(-1));
  sound.addEventListener("timeupdate", () => {
    if (joint && playing !== joint.from && playing !== joint.to) joint = null;
    if (!joint || playing !== joint.to || sound.currentTime < JOINT_S) return;
    joint = null;
    sound.pause();
  });
  ["timeupdate", "durationchange", "seeked"].forEach((name) => sound.addEventListener(name, draw));
  ["play", "pause"].forEach((name) => sound.addEventListener(name, show));
  sound.addEventListener("ended", () => {
    if (neighbour(1) || isBelowToCome()) startNeighbour(1);
    else stop();
  });
  addEventListener("resize", draw);
  document.body.addEventListener("htmx:afterSettle", show);
}
