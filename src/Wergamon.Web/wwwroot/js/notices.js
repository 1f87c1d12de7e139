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

// The title of a page that is not looked at says that a run has ended, until it is looked at.
function showInTitle(text) {
  if (document.hasFocus()) return;
  const title = document.title;
  document.title = text;
  window.addEventListener("focus", () => { document.title = title; }, { once: true });
}

function playSound() {
  const context = new AudioContext();
  const [tone, level] = [context.createOscillator(), context.createGain()];
  tone.frequency.value = 660;
  level.gain.setValueAtTime(0.15, context.currentTime);
  level.gain.exponentialRampToValueAtTime(0.001, context.currentTime + 0.5);
  tone.connect(level).connect(context.destination);
  tone.start();
  tone.stop(context.currentTime + 0.5);
  tone.onended = () => context.close();
}

const SOUND = "sound-at-end";

export function watchNotices() {
  document.addEventListener("told", ({ detail: told }) => {
    if (!told.run || !isNews(`${told.run} ${told.text}`)) return;
    if (location.pathname !== told.address) showMessage(told.text, told.address);
    showInTitle(told.text);
    if (localStorage.getItem(SOUND)) playSound();
    if ("Notification" in window && Notification.permission === "granted") new Notification("Wergamon", { body: told.text });
  });

  document.body.addEventListener("htmx:afterSettle", () => {
    const allow = document.getElementById("allow-notices");
    if (allow && "Notification" in window) allow.hidden = Notification.permission !== "default";
    const sound = document.getElementById(SOUND);
    if (sound) sound.checked = Boolean(localStorage.getItem(SOUND));
  });
  document.addEventListener("change", (event) => {
    if (event.target.id !== SOUND) return;
    if (event.target.checked) localStorage.setItem(SOUND, "on");
    else localStorage.removeItem(SOUND);
  });
  document.addEventListener("click", async (event) => {
    if (event.target.id !== "allow-notices") return;
    await Notification.requestPermission();
    event.target.hidden = true;
  });
}
