// Sets: moving, picking and changing the order. Every change names items, not places, so that two windows do not undo each other.
const MINE = "application/x-wergamon-items";

const page = () => document.getElementById("set");
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
  const bar = document.querySelector("[data-set-picked]");
  if (!bar) return;
  bar.hidden = picked.size === 0;
  bar.querySelector("[data-set-count]").textContent = `${picked.size} picked`;
}

const shownParts = () => [...new Set([...document.querySelectorAll("[data-item]")].map((body) => body.dataset.part))].join(",");

let sent = Promise.resolve();

/** One after the other, so that the page shows the last state at the end. */
export function postToSet(handler, values) {
  sent = sent.then(() => send(handler, values)).catch(() => {});
}

async function send(handler, values) {
  const focused = itemOf(document.activeElement)?.dataset.item;
  await window.htmx.ajax("POST", `${page().dataset.set}?handler=${handler}`, {
    target: "#set", select: "#set", swap: "morph:outerHTML",
    values: {
      __RequestVerificationToken: document.querySelector("[data-set-form] input[name=__RequestVerificationToken]").value,
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
      postToSet("Move", { items: moved, after: body.dataset.item });
      return;
    }
    postToSet("Move", { items: moved, before: before?.dataset.item ?? "" });
  });
  document.addEventListener("dragend", () => mark(null));
}

const TAP_PAUSE_MS = 2500;

/** Half, double, and the tempo of the last taps: the mean of the gaps since the first. */
function watchTempo() {
  let taps = [];
  const write = (tempo) => {
    const field = document.getElementById("own-tempo");
    field.value = tempo.toFixed(2);
    return field;
  };
  document.addEventListener("click", (event) => {
    const times = event.target.closest?.("[data-tempo]");
    if (times) {
      const field = document.getElementById("own-tempo");
      if (field.value) write(Number(field.value) * Number(times.dataset.tempo)).dispatchEvent(new Event("change", { bubbles: true }));
    }
    const tap = event.target.closest?.("[data-tap]");
    if (!tap) return;
    if (taps.length > 0 && event.timeStamp - taps.at(-1) > TAP_PAUSE_MS) taps = [];
    taps.push(event.timeStamp);
    if (taps.at(-1) > taps[0]) write(60_000 * (taps.length - 1) / (taps.at(-1) - taps[0]));
    clearTimeout(tap.wait);
    tap.wait = setTimeout(() => { if (taps.length > 2) document.getElementById("own-tempo")?.dispatchEvent(new Event("change", { bubbles: true })); }, TAP_PAUSE_MS);
  });
}

export function watchSets() {
  watchTempo();
  let last = null;
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-set-do]");
    if (button && page()) postToSet(button.dataset.setDo, { items: items(false).join(","), ...Object.fromEntries(new URLSearchParams(button.dataset.with ?? "")) });
    const box = event.target.closest?.("[data-item-pick]");
    if (!box) return;
    const all = boxes();
    const [from, to] = event.shiftKey && all.includes(last) ? [all.indexOf(last), all.indexOf(box)].sort((a, b) => a - b) : [all.indexOf(box), all.indexOf(box)];
    all.slice(from, to + 1).forEach((each) => (box.checked ? picked.add(each.value) : picked.delete(each.value)));
    last = box;
    tell();
  });
  document.addEventListener("keydown", (event) => {
    if (!page() || event.target.matches("input:not([type=checkbox]), textarea, select") || document.querySelector("dialog[open]")) return;
    if (event.altKey && (event.key === "ArrowUp" || event.key === "ArrowDown")) {
      event.preventDefault();
      const moved = items(true);
      if (moved.length > 0) postToSet("Shift", { items: moved.join(","), by: event.key === "ArrowUp" ? -1 : 1 });
    }
    if (event.key === "Delete" && items(true).length > 0) postToSet("Remove", { items: items(true).join(",") });
    if ((event.ctrlKey || event.metaKey) && event.key === "z") {
      event.preventDefault();
      document.querySelector("[data-set-do=Undo]:not([disabled])")?.click();
    }
  });
  document.addEventListener("htmx:afterSettle", tell);
  drag();
  tell();
}
