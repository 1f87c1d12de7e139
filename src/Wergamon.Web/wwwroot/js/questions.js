// Asks before something that cannot be taken back.
export function askBefore() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-ask]");
    if (button && !window.confirm(button.dataset.ask)) event.preventDefault();
  });
}
