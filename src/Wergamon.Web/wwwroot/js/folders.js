// Lets a folder be chosen in a dialog instead of being typed. Without this module the field is typed into.
export function watchFolders() {
  let field = null;
  // The pressed button went with the old list; the focus moves to the new one.
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.target.id === "folder-browser-body" && event.target.closest("dialog").open)
      event.target.querySelector(".folder-choices button, [data-choose-folder]:enabled")?.focus();
  });
  document.addEventListener("click", async (event) => {
    const opener = event.target.closest?.("[data-browse]");
    if (opener) {
      const dialog = document.getElementById("folder-browser");
      field = document.getElementById(opener.dataset.browse);
      await window.htmx.ajax("GET", `/folders?at=${encodeURIComponent(field.value)}`, { target: "#folder-browser-body" });
      dialog.showModal();
    }
    const choice = event.target.closest?.("[data-choose-folder]");
    if (choice && field) {
      field.value = choice.dataset.chooseFolder;
      document.getElementById("folder-browser").close();
      field.focus();
      field.dispatchEvent(new Event("change", { bubbles: true }));
    }
  });
}
