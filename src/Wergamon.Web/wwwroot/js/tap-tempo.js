// Sets: the tempo that a person taps.
const TAP_PAUSE_MS = 2500;

/** Half, double, and the tempo of the last taps: the mean of the gaps since the first. */
export function watchTempo() {
  let taps = [];
  const write = (tempo) => {
    const field = document.getElementById("own-tempo");
    field.value = tempo.toFixed(2);
    return field;
  };
  document.addEventListener("click", (event) => {
    const times = event.target.closest?.("[data-tempo]");
    if (times) {
      const field = document.getElementById("own-tempo");
      if (field.value) write(Number(field.value) * Number(times.dataset.tempo)).dispatchEvent(new Event("change", { bubbles: true }));
    }
    const tap = event.target.closest?.("[data-tap]");
    if (!tap) return;
    if (taps.length > 0 && event.timeStamp - taps.at(-1) > TAP_PAUSE_MS) taps = [];
    taps.push(event.timeStamp);
    if (taps.at(-1) > taps[0]) write(60_000 * (taps.length - 1) / (taps.at(-1) - taps[0]));
    clearTimeout(tap.wait);
    tap.wait = setTimeout(() => {
      if (taps.length > 2) document.getElementById("own-tempo")?.dispatchEvent(new Event("change", { bubbles: true }));
    }, TAP_PAUSE_MS);
  });
}
