// Announces the end of a run on every page, and as a browser notification if allowed.
const SHOWN_MS = 12000;
const KEPT = 20;

function showMessage(text, address) {
  const message = document.createElement("div");
  message.className = "message";
  const words = document.createElement("span");
  words.textContent = text;
  const link = document.createElement("a");
  link.href = address;
  link.textContent = "Report";
  message.append(words, link);
  document.getElementById("messages").append(message);
  setTimeout(() => message.remove(), SHOWN_MS);
}

// A page that has just been opened hears of runs that ended a moment ago; each tab announces them once.
function isNews(told) {
  const known = JSON.parse(sessionStorage.getItem("told") ?? "[]");
  if (known.includes(told)) return false;
  sessionStorage.setItem("told", JSON.stringify([...known, told].slice(-KEPT)));
  return true;
}

export function watchNotices() {
  document.body.addEventListener("htmx:sseMessage", (event) => {
    if (event.detail.type !== "ended" || event.detail.lastEventId === undefined) return;
    const told = JSON.parse(event.detail.data);
    if (!told.run || !isNews(`${told.run} ${told.text}`)) return;
    if (location.pathname !== told.address) showMessage(told.text, told.address);
    if ("Notification" in window && Notification.permission === "granted") new Notification("Wergamon", { body: told.text });
  });

  document.body.addEventListener("htmx:afterSettle", () => {
    const allow = document.getElementById("allow-notices");
    if (allow && "Notification" in window) allow.hidden = Notification.permission !== "default";
  });
  document.addEventListener("click", async (event) => {
    if (event.target.id !== "allow-notices") return;
    await Notification.requestPermission();
    event.target.hidden = true;
  });
}
