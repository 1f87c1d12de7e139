// Keys of one character can be switched off: speech input types them by accident (WCAG 2.1, success criterion 2.1.4). What has the focus
// keeps its own keys, and so do fields.
const KEPT = "single-keys", OFF = "off";

const areOn = () => localStorage.getItem(KEPT) !== OFF;
const isSingle = (event) =>
  event.key.length === 1 && event.key !== " " && !event.ctrlKey && !event.metaKey && !event.altKey;
const hasOwnKeys = (element) =>
  element.closest("input:not([type=checkbox], [type=radio]), textarea, select, [role=grid], [role=application]");

export function watchSingleKeys() {
  // Before all other listeners, whichever phase they are for.
  window.addEventListener("keydown", (event) => {
    if (isSingle(event) && !areOn() && !hasOwnKeys(event.target)) event.stopImmediatePropagation();
  }, true);
  const box = document.getElementById("single-keys");
  box.checked = areOn();
  box.addEventListener("change", () => {
    if (box.checked) localStorage.removeItem(KEPT);
    else localStorage.setItem(KEPT, OFF);
  });
}
