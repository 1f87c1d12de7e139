import { addKeys } from "./keys.js";
import { renew } from "./renewals.js";

// Opens and closes dialogs, and closes menus that lose the focus.
export function watchDrawers() {
  document.querySelector("dialog[data-open-now=yes]")?.showModal();
  document.addEventListener("click", (event) => {
    const opener = event.target.closest?.("[data-open]");
    if (opener) {
      const drawer = document.getElementById(opener.dataset.open);
      drawer.showModal();
      drawer.querySelectorAll("[hx-trigger]").forEach((part) => part.dispatchEvent(new Event("drawer-open")));
      drawer.querySelectorAll("[data-renew]").forEach((part) => renew(part));
    }
    if (event.target.closest?.("[data-print]")) window.print();
    const closer = event.target.closest?.("[data-close]");
    if (closer) document.getElementById(closer.dataset.close).close();
    if (event.target instanceof HTMLDialogElement) event.target.close();
    document.querySelectorAll("details.menu[open]").forEach((menu) => {
      // A button that shows its result stays visible.
      const isInside = menu.contains(event.target) && (event.target.closest("summary") || event.target.closest("[data-copy]"));
      if (!isInside) menu.open = false;
    });
  });
  // A dialog that is shown once its contents have come.
  document.addEventListener("htmx:afterSwap", (event) => {
    const dialog = event.target.closest?.("dialog[data-show-filled]");
    if (dialog && !dialog.open) dialog.showModal();
  });
  const menu = () => document.activeElement?.closest("details.menu[open]");
  addKeys({ Escape: () => {
    const open = menu();
    open.open = false;
    open.querySelector("summary").focus();
  } }, { when: menu, isInFields: true, isInDialogs: true });
}
