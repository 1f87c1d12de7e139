// Draws a waveform: the played part in one colour, the rest in another.
import { colour } from "./colours.js";

const FULL = 127;

/** Minimum and maximum of each column in turn, or null without a waveform. */
export async function fetchWaveform(address) {
  const answer = await fetch(address);
  return answer.ok ? new Int8Array(await answer.arrayBuffer()) : null;
}

export function drawWaveform(canvas, waveform, share) {
  const [width, height] = [canvas.clientWidth, canvas.clientHeight].map((length) => Math.round(length * devicePixelRatio));
  if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
  const pen = canvas.getContext("2d");
  pen.clearRect(0, 0, width, height);
  const [played, rest] = [colour("--lamp"), colour("--slate-3")];
  const middle = height / 2;
  const columns = waveform ? waveform.length / 2 : 0;
  for (let x = 0; x < width; x++) {
    let [low, high] = [0, 0];
    const last = Math.max(Math.ceil(((x + 1) * columns) / width), Math.floor((x * columns) / width) + 1);
    for (let at = Math.floor((x * columns) / width); at < Math.min(last, columns); at++) {
      low = Math.min(low, waveform[2 * at]);
      high = Math.max(high, waveform[2 * at + 1]);
    }
    pen.fillStyle = x < share * width ? played : rest;
    pen.fillRect(x, middle - (high / FULL) * middle, 1, Math.max(1, ((high - low) / FULL) * middle));
  }
  pen.fillStyle = colour("--slate");
  pen.fillRect(Math.round(share * width), 0, Math.ceil(devicePixelRatio), height);
}
