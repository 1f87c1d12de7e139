// Asks for confirmation before something that cannot be undone.
export function askBefore() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.('[data-ask]:not([data-ask=""])');
    if (button && !window.confirm(button.dataset.ask)) event.preventDefault();
  });
}
