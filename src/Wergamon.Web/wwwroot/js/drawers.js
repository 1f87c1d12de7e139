// Opens and closes dialogs: the run drawer and the list of keys.
export function watchDrawers() {
  document.addEventListener("click", (event) => {
    const opener = event.target.closest?.("[data-open]");
    if (opener) {
      const drawer = document.getElementById(opener.dataset.open);
      drawer.showModal();
      drawer.querySelectorAll("[hx-trigger]").forEach((part) => part.dispatchEvent(new Event("drawer-open")));
    }
    const closer = event.target.closest?.("[data-close]");
    if (closer) document.getElementById(closer.dataset.close).close();
    if (event.target instanceof HTMLDialogElement) event.target.close();
  });
}
