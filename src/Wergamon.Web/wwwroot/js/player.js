// Plays a copy at the foot of the page; the same button stops it.
export function watchPlayer() {
  const player = document.getElementById("player");
  const sound = document.getElementById("player-sound");
  const title = document.getElementById("player-title");
  let playing = null;

  const show = () => document.querySelectorAll("[data-play]").forEach((button) => {
    button.textContent = button.dataset.play === playing ? "Stop" : "Play";
  });
  const stop = () => {
    sound.pause();
    playing = null;
    show();
  };
  const start = (button) => {
    playing = button.dataset.play;
    title.textContent = button.dataset.title;
    player.hidden = false;
    sound.src = playing;
    sound.play().catch((failure) => {
      // Stopping before the sound came, or a browser that waits for a second press, is no failure of the file.
      if (failure.name === "AbortError") return;
      if (failure.name === "NotSupportedError") title.textContent = `${button.dataset.title} cannot be played by this browser`;
      stop();
    });
    show();
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-play]");
    if (!button) return;
    if (button.dataset.play === playing) stop();
    else start(button);
  });
  document.getElementById("player-close").addEventListener("click", () => { stop(); player.hidden = true; });
  // The next one is what stands next in view.
  sound.addEventListener("ended", () => {
    const buttons = [...document.querySelectorAll("[data-row] [data-play]")];
    const next = buttons[buttons.findIndex((button) => button.dataset.play === playing) + 1];
    stop();
    if (next && buttons.indexOf(next) > 0) start(next);
  });
  document.body.addEventListener("htmx:afterSettle", show);
}
