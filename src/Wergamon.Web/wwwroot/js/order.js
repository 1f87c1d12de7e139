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

/** Moves items to where they are dropped: with the mouse by the whole row, with a finger or a pen by its handle. */
function drag() {
  let over = null, isAfter = false;
  const meant = (body) => (picked.has(body.dataset.item) ? [...picked].join(",") : body.dataset.item);
  const mark = (body, y) => {
    over?.classList.remove("is-before", "is-after");
    over = body;
    if (!body) return;
    const box = body.getBoundingClientRect();
    isAfter = y > box.top + box.height / 2;
    body.classList.add(isAfter ? "is-after" : "is-before");
  };
  const drop = (moved) => {
    // After the last row of a part comes what stands for the next one: the place after this row is told by the row.
    const before = isAfter ? over.nextElementSibling : over;
    postOrder("Move", before && !before.dataset.item
      ? { items: moved, after: over.dataset.item } : { items: moved, before: before?.dataset.item ?? "" });
  };
  document.addEventListener("dragstart", (event) => {
    const body = itemOf(event.target);
    if (!body) return;
    event.dataTransfer.setData(MINE, meant(body));
    event.dataTransfer.effectAllowed = "move";
  });
  document.addEventListener("dragover", (event) => {
    const body = itemOf(event.target);
    if (!body || !event.dataTransfer.types.includes(MINE)) return;
    event.preventDefault();
    mark(body, event.clientY);
  });
  document.addEventListener("drop", (event) => {
    const moved = event.dataTransfer.getData(MINE);
    if (!itemOf(event.target) || !moved) return;
    event.preventDefault();
    drop(moved);
  });
  document.addEventListener("dragend", () => mark(null));
  document.addEventListener("pointerdown", (event) => {
    const handle = event.pointerType === "mouse" ? null : event.target.closest?.("[draggable=true] .col-drag");
    if (handle) follow(handle, event, mark, (isOver) => { if (isOver && over) drop(meant(itemOf(handle))); mark(null); });
  });
}

/** Follows a finger that holds a handle; near an edge the list scrolls. */
function follow(handle, down, mark, end) {
  const edge = 48, step = 10, listening = new AbortController();
  let { clientX: x, clientY: y } = down;
  const look = () => { const body = itemOf(document.elementFromPoint(x, y)); if (body) mark(body, y); };
  const scroller = scrollerOf(handle);
  const scrolling = setInterval(() => {
    const box = scroller === document.scrollingElement ? { top: 0, bottom: innerHeight } : scroller.getBoundingClientRect();
    const by = y < box.top + edge ? -step : y > box.bottom - edge ? step : 0;
    if (by !== 0) { scroller.scrollBy(0, by); look(); }
  }, 30);
  const on = (type, act) => handle.addEventListener(type, act, { signal: listening.signal });
  const stop = (isOver) => { clearInterval(scrolling); listening.abort(); end(isOver); };
  down.preventDefault();
  handle.setPointerCapture(down.pointerId);
  on("pointermove", (event) => { ({ clientX: x, clientY: y } = event); look(); });
  on("pointerup", () => stop(true));
  on("pointercancel", () => stop(false));
}

function scrollerOf(element) {
  for (let each = element.parentElement; each; each = each.parentElement) {
    if (each.scrollHeight > each.clientHeight && /auto|scroll/.test(getComputedStyle(each).overflowY)) return each;
  }
  return document.scrollingElement;
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
