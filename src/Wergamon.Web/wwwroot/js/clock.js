/** A time as "1:02", with digits as "1:02.34"; a minus is before what lies before the start. */
export function clock(seconds, digits = 0) {
  const scale = 10 ** digits, size = Math.abs(seconds);
  // Without digits a second counts once it is over. Rounded before it is taken apart, so that none is "0:60.00".
  const rounded = digits ? Math.round(size * scale) / scale : Math.floor(size + 1e-6);
  const rest = (rounded % 60).toFixed(digits).padStart(digits ? 3 + digits : 2, "0");
  return `${seconds < 0 && rounded > 0 ? "-" : ""}${Math.floor(rounded / 60)}:${rest}`;
}
