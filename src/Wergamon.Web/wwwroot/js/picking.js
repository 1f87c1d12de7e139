// Picking rows by their boxes, one at a time or, with Shift, all from the last one on.

export const count = (number, thing = "track") => `${number.toLocaleString("en")} ${thing}${number === 1 ? "" : "s"}`;

/** The boxes from one to the other, whichever comes first; only the second where the first is not among them. */
export function between(boxes, one, other) {
  if (!boxes.includes(one)) return [other];
  const [from, to] = [boxes.indexOf(one), boxes.indexOf(other)].sort((a, b) => a - b);
  return boxes.slice(from, to + 1);
}

/**
 * Calls pick(from, to) for a box that is clicked: with Shift, from is the box that was clicked before it, otherwise the same one.
 * Returns what forgets the box clicked last.
 */
export function watchBoxes(selector, pick) {
  let last = null;
  document.addEventListener("click", (event) => {
    const box = event.target.closest?.(selector);
    if (!box) return;
    pick(event.shiftKey && last ? last : box, box);
    last = box;
  });
  return () => { last = null; };
}
