// Lets a folder or a file be chosen in a dialog instead of being typed. Without this module the field is typed into.
export function watchFolders() {
  let field = null;
  // The pressed button went with the old list; the focus moves to the new one.
  document.addEventListener("htmx:afterSwap", (event) => {
    if (event.target.id === "folder-browser-body" && event.target.closest("dialog").open)
      event.target.querySelector(".folder-choices button, [data-choose-path]:enabled")?.focus();
  });
  document.addEventListener("click", async (event) => {
    const opener = event.target.closest?.("[data-browse], [data-browse-file]");
    if (opener) {
      const dialog = document.getElementById("folder-browser"), isFile = "browseFile" in opener.dataset;
      field = document.getElementById(isFile ? opener.dataset.browseFile : opener.dataset.browse);
      document.getElementById("folder-browser-title").textContent = isFile ? "Choose a file" : "Choose a folder";
      await window.htmx.ajax("GET", `/folders?files=${isFile}&at=${encodeURIComponent(field.value)}`, { target: "#folder-browser-body" });
      dialog.showModal();
    }
    const choice = event.target.closest?.("[data-choose-path]");
    if (choice && field) {
      field.value = choice.dataset.choosePath;
      document.getElementById("folder-browser").close();
      field.focus();
      field.dispatchEvent(new Event("change", { bubbles: true }));
    }
  });
}
