// Describes what is under the pointer, or has the focus, on the disc strip.
import { clock } from "./clock.js";

export function watchStrip() {
  const says = (text) => { const place = document.querySelector("[data-strip-says]"); if (place) place.textContent = text; };
  document.addEventListener("pointermove", (event) => {
    const strip = event.target.closest?.("[data-strip]");
    if (!strip) return;
    const box = strip.getBoundingClientRect();
    const at = (event.clientX - box.left) / box.width * Number(strip.dataset.minutes) * 60;
    const label = event.target.closest("[data-strip-label]")?.dataset.stripLabel;
    says(label ? `${clock(at)}. ${label}` : clock(at));
  });
  document.addEventListener("pointerout", (event) => {
    if (event.target.closest?.("[data-strip]") && !event.relatedTarget?.closest?.("[data-strip]")) says("");
  });
  document.addEventListener("focusin", (event) => {
    const part = event.target.closest?.("[data-strip-label]");
    if (part) says(part.dataset.stripLabel);
  });
}
