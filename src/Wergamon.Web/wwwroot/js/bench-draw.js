// Draws what the Bench shows: waveforms, the ruler of time, spectra, spectrograms.
import { clock } from "./clock.js";
import { colour } from "./colours.js";
import { drawWave, sheetOf, waveOfFractions } from "./waveform.js";

const SIGNALS = 3, LOWEST_DB = -140, MARKS_HZ = [50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000, 50000];
const STEPS_S = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800, 3600];

export function drawRuler(canvas, from, to) {
  const [pen, width, height] = sheetOf(canvas);
  const step = STEPS_S.find((each) => (each / (to - from)) * width > 70) ?? STEPS_S.at(-1);
  const digits = step >= 1 ? 0 : Math.ceil(-Math.log10(step));
  pen.font = `11px ${getComputedStyle(canvas).getPropertyValue("--mono")}`;
  for (let seconds = Math.ceil(from / step) * step; seconds < to; seconds += step) {
    const x = ((seconds - from) / (to - from)) * width;
    pen.fillStyle = colour("--edge");
    pen.fillRect(Math.round(x), height - 6, 1, 6);
    pen.fillStyle = colour("--slate-2");
    pen.fillText(clock(seconds, digits), Math.round(x) + 3, height - 7);
  }
}

/** @param wave minimum and maximum of each column for all three signals, over a stretch of its own */
export function drawSignal(canvas, wave, signal, view, gain, name) {
  const sheet = sheetOf(canvas), [pen, width, height] = sheet;
  const xOf = (seconds) => ((seconds - view.from) / (view.to - view.from)) * width;
  if (view.marked) {
    pen.fillStyle = colour("--lamp-pale");
    pen.fillRect(xOf(view.marked.from), 0, Math.max(1, xOf(view.marked.to) - xOf(view.marked.from)), height);
  }
  const ink = colour(name);
  if (wave) drawWave(sheet, waveOfFractions(wave.columns, wave.from, wave.to, signal, SIGNALS), view, () => ink, gain);
  pen.fillStyle = colour("--lamp");
  pen.fillRect(Math.round(xOf(view.place)), 0, 2, height);
}

/** Levels in bands over a logarithmic scale of frequencies. */
export function drawSpectrum(canvas, levels) {
  const [pen, width, height] = sheetOf(canvas);
  const left = 52, bottom = 18, top = 6;
  const [lowest, highest] = [levels.edges[0], levels.edges.at(-1)];
  const xOf = (hertz) => left + (Math.log(hertz / lowest) / Math.log(highest / lowest)) * (width - left - 4);
  const yOf = (decibels) => top + (decibels / LOWEST_DB) * (height - top - bottom);
  pen.font = `11px ${getComputedStyle(canvas).getPropertyValue("--mono")}`;
  for (let decibels = 0; decibels > LOWEST_DB; decibels -= 30) {
    pen.fillStyle = colour("--rule-soft");
    pen.fillRect(left, Math.round(yOf(decibels)), width - left, 1);
    pen.fillStyle = colour("--slate-2");
    pen.fillText(decibels === 0 ? "0 dB" : String(decibels).replace("-", "−"), 6, yOf(decibels) + (decibels === 0 ? 8 : 4));
  }
  for (const hertz of MARKS_HZ.filter((each) => each < highest * 0.99)) {
    pen.fillStyle = colour("--rule-soft");
    pen.fillRect(Math.round(xOf(hertz)), top, 1, height - top - bottom);
    pen.fillStyle = colour("--slate-2");
    pen.fillText(hertz >= 1000 ? `${hertz / 1000}k` : String(hertz), xOf(hertz) - 8, height - 4);
  }
  const line = (values, name, dash, thick) => {
    pen.strokeStyle = colour(name);
    pen.lineWidth = thick;
    pen.setLineDash(dash);
    pen.beginPath();
    let isDown = false;
    values.forEach((decibels, band) => {
      if (decibels <= LOWEST_DB) { isDown = false; return; }
      const [x, y] = [xOf(Math.sqrt(levels.edges[band] * levels.edges[band + 1])), Math.max(top, yOf(decibels))];
      if (isDown) pen.lineTo(x, y);
      else pen.moveTo(x, y);
      isDown = true;
    });
    pen.stroke();
    pen.setLineDash([]);
  };
  line(levels.first, "--slate", [], 2);
  line(levels.second, "--slate-3", [7, 4], 2);
  line(levels.residue, "--lossy", [2, 3], 2);
}

/** @param gram levels in bytes, column by column from low to high, over a stretch of its own */
export function drawSpectrogram(canvas, gram, view, name) {
  const [pen, width, height] = sheetOf(canvas);
  if (!gram) return;
  const rows = 256, columns = gram.levels.length / rows;
  const parse = (text) => text.match(/[\d.]+/g).map(Number);
  const [paper, ink] = [parse(colour("--sheet")), parse(colour(name))];
  const image = new ImageData(columns, rows);
  for (let column = 0; column < columns; column++) {
    for (let row = 0; row < rows; row++) {
      const share = gram.levels[column * rows + row] / 255, at = 4 * ((rows - 1 - row) * columns + column);
      for (let part = 0; part < 3; part++) image.data[at + part] = paper[part] + (ink[part] - paper[part]) * share ** 2;
      image.data[at + 3] = 255;
    }
  }
  const still = new OffscreenCanvas(columns, rows);
  still.getContext("2d").putImageData(image, 0, 0);
  const xOf = (seconds) => ((seconds - view.from) / (view.to - view.from)) * width;
  pen.drawImage(still, xOf(gram.from), 0, xOf(gram.to) - xOf(gram.from), height);
  pen.fillStyle = colour("--lamp");
  pen.fillRect(Math.round(xOf(view.place)), 0, 2, height);
}
