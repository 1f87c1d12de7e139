// Rows that come when they are scrolled to: what stands for them is brought into view where keys or the player get to the last row.

/** Brings what stands for the rows after one into view; true when there is something to come. */
export function bringBelow(row) {
  const body = row?.closest("tbody")?.nextElementSibling;
  if (!body?.matches('[hx-trigger^="intersect"]')) return false;
  body.scrollIntoView({ block: "nearest" });
  return true;
}
