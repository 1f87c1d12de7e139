// Colours of the theme as a canvas takes them.
const probe = document.createElement("span");
probe.hidden = true;

/** A variable of the style sheets, as it is now in the light or the dark theme. */
export function colour(name) {
  if (!probe.isConnected) document.body.append(probe);
  probe.style.color = `var(${name})`;
  return getComputedStyle(probe).color;
}
