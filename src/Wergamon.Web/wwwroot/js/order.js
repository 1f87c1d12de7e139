// Lists in an order of one's own, as sets and discs are: moving, picking and changing the order. Every change names items, not places, so
// that two windows do not undo each other.
import { addKeys } from "./keys.js";
import { between, watchBoxes } from "./picking.js";

const MINE = "application/x-wergamon-items";

const page = () => document.querySelector("[data-ordered]");
const boxes = () => [...document.querySelectorAll("[data-item-pick]")];
const itemOf = (element) => element?.closest?.("[data-item]");

// Rows that are further down come when they are scrolled to, so picks are kept here.
const picked = new Set();

/** The picked items; without picks the one that has the focus. */
function items(isFocusEnough) {
  if (picked.size > 0 || !isFocusEnough) return [...picked];
  const focused = itemOf(document.activeElement);
  return focused ? [focused.dataset.item] : [];
}

function tell() {
  boxes().forEach((box) => { box.checked = picked.has(box.value); });
  const bar = document.querySelector("[data-order-picked]");
  if (!bar) return;
  bar.hidden = picked.size === 0;
  bar.querySelector("[data-order-count]").textContent = `${picked.size} picked`;
}

const shownParts = () => [...new Set([...document.querySelectorAll("[data-item]")].map((body) => body.dataset.part))].join(",");

let sent = Promise.resolve();

/** One after the other, so that the page shows the last state at the end. */
export function postOrder(handler, values) {
  sent = sent.then(() => send(handler, values)).catch(() => {});
}

async function send(handler, values) {
  const focused = itemOf(document.activeElement)?.dataset.item;
  await window.htmx.ajax("POST", `${page().dataset.ordered}?handler=${handler}`, {
    target: `#${page().id}`, select: `#${page().id}`, swap: "morph:outerHTML",
    values: {
      __RequestVerificationToken: document.querySelector("[data-order-form] input[name=__RequestVerificationToken]").value,
      at: page().dataset.at ?? "", parts: shownParts(), ...values,
    },
  });
  if (handler === "Remove") picked.clear();
  if (focused) document.querySelector(`[data-item="${focused}"] [data-row]`)?.focus();
  tell();
}

function drag() {
  let over = null;
  const mark = (body, isAfter) => {
    over?.classList.remove("is-before", "is-after");
    over = body;
    over?.classList.add(isAfter ? "is-after" : "is-before");
  };
  const isBelow = (event, body) => { const box = body.getBoundingClientRect(); return event.clientY > box.top + box.height / 2; };
  document.addEventListener("dragstart", (event) => {
    const body = itemOf(event.target);
    if (!body) return;
    event.dataTransfer.setData(MINE, picked.has(body.dataset.item) ? [...picked].join(",") : body.dataset.item);
    event.dataTransfer.effectAllowed = "move";
  });
  document.addEventListener("dragover", (event) => {
    const body = itemOf(event.target);
    if (!body || !event.dataTransfer.types.includes(MINE)) return;
    event.preventDefault();
    mark(body, isBelow(event, body));
  });
  document.addEventListener("drop", (event) => {
    const body = itemOf(event.target);
    const moved = event.dataTransfer.getData(MINE);
    if (!body || !moved) return;
    event.preventDefault();
    // After the last row of a part comes what stands for the next one: the place after this row is told by the row.
    const before = isBelow(event, body) ? body.nextElementSibling : body;
    if (before && !before.dataset.item) {
      postOrder("Move", { items: moved, after: body.dataset.item });
      return;
    }
    postOrder("Move", { items: moved, before: before?.dataset.item ?? "" });
  });
  document.addEventListener("dragend", () => mark(null));
}

export function watchOrder() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-order-do]");
    const values = Object.fromEntries(new URLSearchParams(button?.dataset.with ?? ""));
    if (button && page()) postOrder(button.dataset.orderDo, { items: items(false).join(","), ...values });
  });
  watchBoxes("[data-item-pick]", (from, box) => {
    between(boxes(), from, box).forEach((each) => (box.checked ? picked.add(each.value) : picked.delete(each.value)));
    tell();
  });
  const post = (handler, values = {}) => () => {
    const meant = items(true);
    if (meant.length > 0) postOrder(handler, { items: meant.join(","), ...values });
  };
  addKeys({
    "Alt+ArrowUp": post("Shift", { by: -1 }),
    "Alt+ArrowDown": post("Shift", { by: 1 }),
    "Delete": post("Remove"),
    "Ctrl+z": () => document.querySelector("[data-order-do=Undo]:not([disabled])")?.click(),
  }, { when: () => page() });
  document.addEventListener("htmx:afterSettle", tell);
  drag();
  tell();
}
