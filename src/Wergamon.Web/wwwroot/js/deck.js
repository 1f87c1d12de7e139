// The simulated deck: one player for the page, and marks where it is heard.
export function watchDeck() {
  const audio = () => document.querySelector("[data-deck-audio]");
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("[data-deck-play]");
    if (!button) return;
    const isSame = audio().dataset.playing === button.dataset.deckPlay;
    if (isSame && !audio().paused) return audio().pause();
    if (!isSame) {
      audio().src = button.dataset.deckPlay;
      audio().dataset.playing = button.dataset.deckPlay;
    }
    audio().play().catch(() => {});
  });
  // A mark goes where the track is heard; one that is not playing is marked at its start. Before anybody else sees the form.
  document.addEventListener("submit", (event) => {
    const seconds = event.target.querySelector?.("[data-deck-seconds]");
    if (!seconds) return;
    const play = event.target.closest("[data-deck-track]").querySelector("[data-deck-play]");
    seconds.value = audio().dataset.playing === play.dataset.deckPlay ? String(audio().currentTime) : "0";
  }, true);
}
