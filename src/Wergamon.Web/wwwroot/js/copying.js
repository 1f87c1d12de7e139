// Copies text to the clipboard and says so on the button.
const SAID_MS = 1500;

export function watchCopying() {
  document.addEventListener("click", async (event) => {
    const button = event.target.closest?.("[data-copy]");
    if (!button) return;
    const words = button.textContent;
    try {
      await navigator.clipboard.writeText(button.dataset.copy);
      button.textContent = "Copied";
    } catch {
      // The clipboard may be unavailable; then the path is shown for copying by hand.
      button.textContent = button.dataset.copy;
      return;
    }
    setTimeout(() => { button.textContent = words; }, SAID_MS);
  });
}
