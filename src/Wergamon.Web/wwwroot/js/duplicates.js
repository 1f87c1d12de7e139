// Counts the ticked files and their size.
const MEGABYTE = 1e6;

function sizeInWords(bytes) {
  const [value, unit] = bytes >= 1000 * MEGABYTE ? [bytes / (1000 * MEGABYTE), "GB"] : [bytes / MEGABYTE, "MB"];
  return `${value.toLocaleString("en", { minimumFractionDigits: 1, maximumFractionDigits: 1 })} ${unit}`;
}

function tell(form) {
  const words = form.querySelector("[data-going]");
  words.dataset.none ??= words.textContent;
  const ticked = [...form.querySelectorAll("input[data-bytes]:checked")];
  const bytes = ticked.reduce((sum, box) => sum + Number(box.dataset.bytes), 0);
  words.textContent = ticked.length
    ? `${ticked.length.toLocaleString("en")} file${ticked.length === 1 ? "" : "s"} ticked, ${sizeInWords(bytes)}` : words.dataset.none;
}

export function watchDuplicates() {
  document.addEventListener("change", (event) => {
    const form = event.target.closest?.("[data-tidy]");
    if (form) tell(form);
  });
  document.querySelectorAll("[data-tidy]").forEach(tell);
}
