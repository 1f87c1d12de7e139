// Uploads a picture that is dropped or chosen.
export function watchDrops() {
  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-send-at-once]") && event.target.files.length > 0) event.target.form.requestSubmit();
  });
  document.addEventListener("dragover", (event) => {
    const place = event.target.closest?.("[data-drop]");
    if (!place) return;
    event.preventDefault();
    place.classList.add("is-over");
  });
  document.addEventListener("dragleave", (event) => event.target.closest?.("[data-drop]")?.classList.remove("is-over"));
  document.addEventListener("drop", (event) => {
    const input = event.target.closest?.("[data-drop]")?.querySelector("input[type=file]");
    if (!input || event.dataTransfer.files.length === 0) return;
    event.preventDefault();
    input.files = event.dataTransfer.files;
    input.form.requestSubmit();
  });
  document.addEventListener("paste", (event) => {
    const input = document.querySelector("[data-paste] input[type=file]");
    if (!input || event.clipboardData.files.length === 0) return;
    event.preventDefault();
    input.files = event.clipboardData.files;
    input.form.requestSubmit();
  });
}
