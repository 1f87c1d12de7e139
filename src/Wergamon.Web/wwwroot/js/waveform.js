// Waveforms: a minimum and a maximum for each of many columns, drawn over a stretch of time.
import { colour } from "./colours.js";

const FULL = 127;

/** Makes a canvas as fine as the screen and gives its pen, with its width and height in CSS pixels. */
export function sheetOf(canvas) {
  const [width, height] = [canvas.clientWidth, canvas.clientHeight];
  const [fine, high] = [Math.round(width * devicePixelRatio), Math.round(height * devicePixelRatio)];
  if (canvas.width !== fine || canvas.height !== high) [canvas.width, canvas.height] = [fine, high];
  const pen = canvas.getContext("2d");
  pen.setTransform(devicePixelRatio, 0, 0, devicePixelRatio, 0, 0);
  pen.clearRect(0, 0, width, height);
  return [pen, width, height];
}

/** A waveform from bytes: minimum and maximum of each column in turn. */
export const waveOfBytes = (bytes, from, to) => ({
  from, to, count: bytes.length / 2, low: (column) => bytes[2 * column] / FULL, high: (column) => bytes[2 * column + 1] / FULL,
});

/** A waveform from fractions of full scale, one signal after the other. */
export const waveOfFractions = (values, from, to, signal, signals) => {
  const count = values.length / 2 / signals, start = 2 * signal * count;
  return { from, to, count, low: (column) => values[start + 2 * column], high: (column) => values[start + 2 * column + 1] };
};

/** Fetches a waveform of bytes; null where there is none. */
export async function fetchWave(address, from, to) {
  const answer = await fetch(address).catch(() => null);
  return answer?.ok ? waveOfBytes(new Int8Array(await answer.arrayBuffer()), from, to) : null;
}

/** Draws what a view shows of a waveform, a line for each column of the screen. */
export function drawWave([pen, width, height], wave, view, inkAt, gain = 1) {
  const middle = height / 2, step = 1 / devicePixelRatio;
  const columnAt = (x) => ((view.from + (x / width) * (view.to - view.from) - wave.from) / (wave.to - wave.from)) * wave.count;
  for (let x = 0; x < width; x += step) {
    const first = Math.floor(columnAt(x)), end = Math.max(first + 1, Math.floor(columnAt(x + step)));
    let [low, high] = [Infinity, -Infinity];
    for (let column = Math.max(0, first); column < Math.min(wave.count, end); column++) {
      low = Math.min(low, wave.low(column));
      high = Math.max(high, wave.high(column));
    }
    if (low > high) continue;
    [low, high] = [low, high].map((value) => Math.max(-1, Math.min(1, value * gain)));
    pen.fillStyle = inkAt(x);
    pen.fillRect(x, middle - high * middle, step, Math.max(1, (high - low) * middle));
  }
}

/** Draws a waveform in full, or a line without one: the played part in one colour, the rest in another. */
export function drawPlayed(canvas, wave, share) {
  const sheet = sheetOf(canvas), [pen, width, height] = sheet;
  const [played, rest] = [colour("--lamp"), colour("--slate-3")];
  const flat = { from: 0, to: 1, count: 1, low: () => 0, high: () => 0 };
  drawWave(sheet, wave ?? flat, { from: 0, to: 1 }, (x) => (x < share * width ? played : rest));
  pen.fillStyle = colour("--slate");
  pen.fillRect(Math.round(share * width), 0, 1, height);
}
