// A file name in pieces: borders are dragged, or moved by keys, and the pattern follows.
import { addKeys } from "./keys.js";

const CHARACTER_PX = 10.8, MARGIN_PX = 8;

const drawing = () => document.getElementById("pieces");
const piecesOf = (svg) => JSON.parse(svg.dataset.pieces);

// The pattern that describes just these pieces of this name.
function patternOf(name, pieces) {
  let text = "", at = 0;
  for (const { start, length, field } of pieces) {
    text += name.slice(at, start) + `{${field}}`;
    at = start + length;
  }
  return text + name.slice(at);
}

function use(svg, pieces, focusOn) {
  const input = document.getElementById("pattern");
  input.value = patternOf(svg.dataset.name, pieces);
  // Keys that follow before the page does go on from here.
  svg.dataset.pieces = JSON.stringify(pieces);
  if (focusOn !== undefined) svg.ownerDocument.body.dataset.piece = focusOn;
  input.dispatchEvent(new Event("change", { bubbles: true }));
}

// Moves a border as far as the neighbours allow; a piece keeps one character.
function move(svg, index, end, to) {
  const pieces = piecesOf(svg);
  const piece = pieces[index];
  const least = index > 0 ? pieces[index - 1].start + pieces[index - 1].length : 0;
  const most = index + 1 < pieces.length ? pieces[index + 1].start : svg.dataset.name.length;
  if (end === "start") {
    const start = Math.min(piece.start + piece.length - 1, Math.max(least, to));
    piece.length += piece.start - start;
    piece.start = start;
  } else {
    piece.length = Math.max(1, Math.min(most, to) - piece.start);
  }
  return pieces;
}

function indexOf(svg, group) {
  return [...svg.querySelectorAll(".piece")].indexOf(group);
}

function characterAt(svg, event) {
  const box = svg.getBoundingClientRect();
  return Math.round((event.clientX - box.left - MARGIN_PX) / CHARACTER_PX);
}

/** An action on the piece with the focus: it receives the drawing, the pieces, and the number of the piece. */
const onPiece = (action) => (event) => {
  const svg = drawing(), group = event.target.closest(".piece");
  action(svg, piecesOf(svg), indexOf(svg, group), event);
};

const moveBorder = (step) => onPiece((svg, pieces, index, event) => {
  const { start, length } = pieces[index];
  use(svg, event.shiftKey ? move(svg, index, "start", start + step) : move(svg, index, "end", start + length + step), index);
});

const nextField = (turn) => onPiece((svg, pieces, index) => {
  const fields = svg.dataset.fields.split("|"), taken = new Set(pieces.map((piece) => piece.field));
  let at = fields.indexOf(pieces[index].field);
  do at = (at + turn + fields.length) % fields.length; while (taken.has(fields[at]));
  pieces[index].field = fields[at];
  use(svg, pieces, index);
});

const remove = onPiece((svg, pieces, index) => use(svg, pieces.filter((_, at) => at !== index), Math.max(0, index - 1)));

export function watchNames() {
  let dragged = null;
  addKeys({
    ArrowLeft: moveBorder(-1), ArrowRight: moveBorder(1), ArrowUp: nextField(-1), ArrowDown: nextField(1),
    Delete: remove, Backspace: remove,
  }, { when: (target) => drawing() && target.closest(".piece") });
  document.addEventListener("pointerdown", (event) => {
    const end = event.target.closest?.(".piece-end");
    if (!end) return;
    dragged = { index: indexOf(drawing(), end.closest(".piece")), end: end.dataset.end };
    event.preventDefault();
  });
  document.addEventListener("pointerup", (event) => {
    if (!dragged) return;
    const svg = drawing();
    use(svg, move(svg, dragged.index, dragged.end, characterAt(svg, event)), dragged.index);
    dragged = null;
  });
  document.addEventListener("click", (event) => {
    const fixed = event.target.closest?.(".piece-fixed");
    const svg = drawing();
    if (!fixed || !svg) return;
    const from = Number(fixed.dataset.start), text = svg.dataset.name.slice(from, from + Number(fixed.dataset.length));
    const word = text.match(/[^\s\-–—_.()[\]/].*[^\s\-–—_.()[\]/]|[^\s\-–—_.()[\]/]/);
    if (!word) return;
    const pieces = piecesOf(svg);
    const used = new Set(pieces.map((piece) => piece.field));
    const field = svg.dataset.fields.split("|").find((name) => !used.has(name));
    use(svg, [...pieces, { start: from + word.index, length: word[0].length, field }].sort((a, b) => a.start - b.start));
  });
  // After the page has followed, the keys go on with the same piece.
  document.body.addEventListener("htmx:afterSettle", () => {
    const index = document.body.dataset.piece;
    if (index === undefined) return;
    delete document.body.dataset.piece;
    drawing()?.querySelectorAll(".piece")[Number(index)]?.focus();
  });
}
