// Plays three sounds at once and lets one of them through: switching has no gap and keeps the place.
const CHUNK_S = 0.5, AHEAD_S = 1.5, START_S = 0.12, FADE_S = 0.004;

export class BenchSound {
  /**
   * @param fetchFrames gives the sounds of some frames, one after the other, interleaved
   * @param sampleOf gives a sample of one of the three; of what was fetched, the number of the sound, the place in it and its length
   */
  constructor(rate, channels, fetchFrames, sampleOf) {
    Object.assign(this, { rate, channels, fetchFrames, sampleOf, heard: 2, residueGain: 1, chunks: [], isPlaying: false, round: 0 });
  }

  /** Seconds that are heard now. */
  get place() {
    const now = this.context.currentTime;
    const chunk = this.chunks.findLast((each) => each.at <= now) ?? this.chunks[0];
    return chunk ? chunk.seconds + Math.min(Math.max(0, now - chunk.at), chunk.length) : this.next;
  }

  /** Plays from one place to another, in seconds; again and again with a loop. */
  async play(from, to, loop) {
    this.stop();
    this.context ??= new AudioContext({ sampleRate: this.rate });
    const round = ++this.round;
    Object.assign(this, { isPlaying: true, from: loop?.from ?? from, to: loop?.to ?? to, isLooped: Boolean(loop), next: from, chunks: [] });
    await this.context.resume();
    if (round !== this.round) return;
    this.gains = [0, 1, 2].map((signal) => {
      const gain = this.context.createGain();
      gain.gain.value = this.levelOf(signal);
      gain.connect(this.context.destination);
      return gain;
    });
    this.endsAt = 0;
    await this.feed(round);
  }

  stop() {
    this.round++;
    this.isPlaying = false;
    const [context, gains] = [this.context, this.gains ?? []];
    for (const gain of gains) {
      gain.gain.setTargetAtTime(0, context.currentTime, FADE_S);
      setTimeout(() => gain.disconnect(), 60);
    }
    this.gains = null;
  }

  hear(signal) {
    this.heard = signal;
    this.level();
  }

  level() {
    this.gains?.forEach((gain, signal) => gain.gain.setTargetAtTime(this.levelOf(signal), this.context.currentTime, FADE_S));
  }

  levelOf(signal) {
    return signal !== this.heard ? 0 : signal === 2 ? this.residueGain : 1;
  }

  /** Keeps some seconds ready; the end of one chunk is the start of the next to the sample. */
  async feed(round) {
    while (round === this.round) {
      if (this.next >= this.to - 1e-6) {
        if (!this.isLooped) break;
        this.next = this.from;
      }
      if (this.endsAt - this.context.currentTime > AHEAD_S) {
        await new Promise((done) => { setTimeout(done, 100); });
        continue;
      }
      const frame = Math.round(this.next * this.rate);
      const count = Math.max(1, Math.min(Math.round(CHUNK_S * this.rate), Math.round(this.to * this.rate) - frame));
      const samples = await this.fetchFrames(frame, count);
      if (round !== this.round) return;
      if (!samples) break;
      this.schedule(samples, frame, count);
      this.next = (frame + count) / this.rate;
    }
    const rest = Math.max(0, this.endsAt - this.context.currentTime) * 1000;
    if (round === this.round) setTimeout(() => { if (round === this.round) this.stop(); }, rest);
  }

  schedule(samples, frame, count) {
    const { channels, context } = this;
    const at = Math.max(this.endsAt, context.currentTime + (this.endsAt ? 0.01 : START_S));
    for (let signal = 0; signal < 3; signal++) {
      const buffer = context.createBuffer(channels, count, this.rate);
      for (let channel = 0; channel < channels; channel++) {
        const line = buffer.getChannelData(channel);
        for (let i = 0, place = channel; i < count; i++, place += channels)
          line[i] = this.sampleOf(samples, signal, place, count * channels);
      }
      const source = context.createBufferSource();
      source.buffer = buffer;
      source.connect(this.gains[signal]);
      source.start(at);
    }
    this.chunks.push({ at, seconds: frame / this.rate, length: count / this.rate });
    if (this.chunks.length > 12) this.chunks.shift();
    this.endsAt = at + count / this.rate;
  }
}
