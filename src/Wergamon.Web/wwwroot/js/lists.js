// Long lists: rows load a page at a time while scrolling and are dropped far away; picks are kept.
import { count, watchBoxes } from "./picking.js";

const KEEP_PAGES = 6;
const NEAR = "1200px";
const TYPING_MS = 150;
const CHANGE_MS = 1000;
const KEPT_PICKS = "picked-tracks";

const kept = () => new Set(JSON.parse(sessionStorage.getItem(KEPT_PICKS) ?? "[]"));
let picked = new Set();

function addressOf(form, handler, rest) {
  const address = new URL(form.dataset.list, location.href);
  address.searchParams.set("handler", handler);
  Object.entries(rest).forEach(([name, value]) => address.searchParams.set(name, value));
  return address;
}

function tell(form) {
  form.querySelectorAll("[data-pick]").forEach((box) => { box.checked = picked.has(Number(box.value)); });
  const tracks = count(picked.size);
  form.querySelector(".pick-count").textContent = picked.size ? `${tracks} picked` : "None picked";
  const convert = form.querySelector("[data-convert-list]");
  convert.textContent = picked.size ? `Convert ${tracks}` : convert.dataset.all;
  form.querySelector("[data-drop-picks]").hidden = picked.size === 0;
  sessionStorage.setItem(KEPT_PICKS, JSON.stringify([...picked]));
}

async function pickRange(form, from, to, isPicked) {
  const answer = await fetch(addressOf(form, "Ids", { offset: from, count: to - from + 1 }));
  (await answer.json()).forEach((id) => (isPicked ? picked.add(id) : picked.delete(id)));
  tell(form);
}

function setUp(form) {
  if (form.dataset.isSetUp) return;
  form.dataset.isSetUp = "1";
  const table = form.querySelector("table");
  const sheet = form.querySelector(".list-sheet");
  const [total, size] = [Number(form.dataset.total), Number(form.dataset.page)];
  table.style.minWidth = `${table.dataset.least}px`;
  const first = table.tBodies[0];
  const rowHeight = first.rows[0].getBoundingClientRect().height;
  const columns = first.rows[0].cells.length;
  const load = async (body) => {
    if (body.dataset.state) return;
    body.dataset.state = "coming";
    const answer = await fetch(addressOf(form, "Rows", { offset: body.dataset.offset }));
    if (!answer.ok) { delete body.dataset.state; return; }
    body.innerHTML = await answer.text();
    body.dataset.state = "there";
    window.htmx.process(body);
    tell(form);
  };
  const empty = (body) => {
    if (body.dataset.state === "there" && body.contains(document.activeElement)) return;
    const rows = Math.min(size, total - Number(body.dataset.offset));
    body.innerHTML = `<tr class="gap"><td colspan="${columns}"></td></tr>`;
    body.rows[0].style.height = `${rows * rowHeight}px`;
    delete body.dataset.state;
  };
  first.dataset.state = "there";
  for (let offset = size; offset < total; offset += size) {
    const body = table.createTBody();
    body.dataset.offset = offset;
    empty(body);
  }
  const near = new Set();
  const watcher = new IntersectionObserver((entries) => {
    entries.forEach(({ target, isIntersecting }) => {
      if (isIntersecting) { near.add(target); load(target); } else near.delete(target);
    });
    const places = [...near].map((body) => Number(body.dataset.offset));
    if (places.length === 0) return;
    const [low, high] = [Math.min(...places) - KEEP_PAGES * size, Math.max(...places) + KEEP_PAGES * size];
    [...table.tBodies].filter((body) => body.dataset.state === "there" && !near.has(body)
      && (body.dataset.offset < low || body.dataset.offset > high)).forEach(empty);
  }, { root: sheet, rootMargin: `${NEAR} 0px` });
  [...table.tBodies].forEach((body) => watcher.observe(body));
  tell(form);
}

/** Says when the list has changed in length; reloading is left to the person, who may be in the middle of it. */
function watchChanges() {
  let wait = 0;
  const look = async () => {
    const form = document.querySelector("[data-list]");
    const notice = document.querySelector("[data-list-changed]");
    if (!form || !notice) return;
    const answer = await fetch(addressOf(form, "Total", {})).catch(() => null);
    if (answer?.ok) notice.hidden = (await answer.json()) === Number(form.dataset.total);
  };
  document.addEventListener("told", ({ detail: { kind } }) => {
    if (kind !== "library") return;
    clearTimeout(wait);
    wait = setTimeout(look, CHANGE_MS);
  });
}

export function watchLists() {
  picked = kept();
  watchChanges();
  const placeOf = (box) => Number(box.closest("tr").dataset.at);
  const forget = watchBoxes("[data-list] [data-pick]", (from, box) => {
    const form = box.closest("[data-list]"), id = Number(box.value);
    if (box.checked) picked.add(id); else picked.delete(id);
    const [one, other] = [placeOf(from), placeOf(box)];
    if (one !== other) pickRange(form, Math.min(one, other), Math.max(one, other), box.checked);
    tell(form);
  });
  const setUpAll = () => document.querySelectorAll("[data-list]").forEach(setUp);
  document.addEventListener("click", (event) => {
    const form = event.target.closest?.("[data-list]");
    if (!form) return;
    if (event.target.closest("[data-pick-list]")) pickRange(form, 0, Number(form.dataset.total) - 1, true);
    if (event.target.closest("[data-drop-picks]")) { picked.clear(); tell(form); }
  });
  document.addEventListener("submit", (event) => {
    const numbers = event.target.querySelector?.("[data-numbers]");
    if (!numbers) return;
    numbers.value = [...picked].join(",");
    sessionStorage.removeItem(KEPT_PICKS);
  });
  // While a list is shown, typing searches it at once.
  const find = document.getElementById("find");
  let wait = 0;
  find.addEventListener("input", () => {
    if (!find.dataset.findHere) return;
    clearTimeout(wait);
    wait = setTimeout(async () => {
      const address = new URL(find.dataset.findHere, location.href);
      if (find.value.trim()) address.searchParams.set("words", find.value.trim());
      const typed = find.value;
      const answer = await fetch(address);
      if (!answer.ok) return;
      const page = new DOMParser().parseFromString(await answer.text(), "text/html");
      if (typed !== find.value) return;
      ["choices", "work"].forEach((id) => document.getElementById(id).replaceWith(page.getElementById(id)));
      history.replaceState(null, "", address);
      window.htmx.process(document.getElementById("work"));
      forget();
      setUpAll();
    }, TYPING_MS);
  });
  setUpAll();
}
