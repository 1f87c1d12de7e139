// Picking rows of a form: counts picks and updates the label of the button.
import { between, count, watchBoxes } from "./picking.js";

const boxesOf = (form) => [...form.elements].filter((box) => box.type === "checkbox" && box.name === "track");

// Stands for rows, too, that have not been loaded.
const allOf = (form) => form.elements.all;

function tell(form) {
  const picked = boxesOf(form).filter((box) => box.checked).length;
  const read = document.querySelector("[data-read]");
  if (form.id === "read" && read) {
    read.textContent = `Rip ${count(picked, read.dataset.thing)}`;
    return;
  }
  const words = form.querySelector(".pick-count");
  const convert = form.querySelector("[data-convert]");
  const bar = form.querySelector("[data-when-picked]");
  if (bar) bar.hidden = !picked;
  if (words) words.textContent = allOf(form)?.checked ? "All picked" : picked ? `${count(picked)} picked` : words.dataset.all;
  if (!convert) return;
  convert.textContent = picked ? `Convert ${count(picked)}` : convert.dataset.all;
}

export function watchPicks() {
  watchBoxes("input[type=checkbox][name=track]", (from, box) => {
    const { form } = box;
    if (!form?.matches(".pick-form")) return;
    between(boxesOf(form), from, box).forEach((each) => { each.checked = box.checked; });
    if (!box.checked && allOf(form)) allOf(form).checked = false;
    tell(form);
  });
  document.addEventListener("change", (event) => {
    if (!event.target.matches("[data-pick-all]")) return;
    boxesOf(event.target.form).forEach((box) => { box.checked = event.target.checked; });
    tell(event.target.form);
  });
  document.addEventListener("click", (event) => {
    const form = event.target.closest?.("[data-play-picked]")?.closest(".pick-form");
    if (!form) return;
    const picked = boxesOf(form).find((box) => box.checked) ?? boxesOf(form)[0];
    picked?.closest("tr").querySelector("[data-play]")?.click();
  });
  document.addEventListener("htmx:afterSettle", () => {
    document.querySelectorAll(".pick-form").forEach((form) => {
      if (allOf(form)?.checked) boxesOf(form).forEach((box) => { box.checked = true; });
      tell(form);
    });
  });
  // Thousands of picks go in one field.
  document.addEventListener("htmx:configRequest", (event) => {
    const form = event.detail.formData;
    const picked = form.getAll("track");
    if (!event.target.closest?.("#plan-lines") || picked.length === 0) return;
    form.delete("track");
    if (!form.has("all")) form.set("numbers", picked.join(","));
  });
  // A browser that returns to the page keeps the ticks; the labels have to follow.
  document.querySelectorAll(".pick-form").forEach(tell);
}
