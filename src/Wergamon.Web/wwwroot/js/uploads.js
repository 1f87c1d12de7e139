// Uploads files to a music folder: dropped on any page or chosen, several at once, in pieces; resumes after an interruption.
const AT_ONCE = 3;
const PIECE_BYTES = 8 * 1024 * 1024;
const OFFER_FILES = 500;
const SHOWN_LINES = 200;
const RETRY_MS = [1000, 2000, 5000, 10000, 30000];
const KEPT_FOLDER = "upload-folder";

const pause = (ms) => new Promise((done) => { setTimeout(done, ms); });
const megabytes = (bytes) => (bytes / 1e6).toLocaleString("en", { minimumFractionDigits: 1, maximumFractionDigits: 1 });
const count = (number, thing) => `${number.toLocaleString("en")} ${thing}${number === 1 ? "" : "s"}`;

/** All files in what was dropped, with their paths. */
async function filesIn(entries) {
  const files = [];
  const open = [...entries];
  while (open.length) {
    const entry = open.shift();
    if (entry.isFile) {
      files.push({ file: await new Promise((done, failed) => { entry.file(done, failed); }), path: entry.fullPath.replace(/^\//, "") });
      continue;
    }
    const reader = entry.createReader();
    // A reader gives some entries at a time, and none at the end.
    for (let some; (some = await new Promise((done, failed) => { reader.readEntries(done, failed); })).length;) open.push(...some);
  }
  return files;
}

class UploadPanel {
  constructor(panel) {
    this.panel = panel;
    this.lines = panel.querySelector("[data-lines]");
    this.waiting = [];
    this.active = 0;
    this.isStopped = false;
    this.reset();
  }

  reset() {
    Object.assign(this, { total: 0, done: 0, there: 0, refused: 0, bytes: 0, received: 0 });
    this.lines.replaceChildren();
  }

  part(name) { return this.panel.querySelector(`[data-${name}]`); }

  async begin(files) {
    if (files.length === 0) return;
    if (this.isIdle()) this.reset();
    const answer = await fetch("/uploads").catch(() => null);
    if (!answer?.ok) { this.say("The server does not answer. Try again in a moment."); return; }
    const { token, folders } = await answer.json();
    this.token = token;
    this.form = document.querySelector("[data-convert-files]");
    this.batch = null;
    if (this.form) {
      // On Convert, files join no music folder: they go into a batch of their own, which becomes a plan.
      const made = await fetch("/uploads/batch", { method: "POST", headers: { RequestVerificationToken: this.token } }).catch(() => null);
      if (!made?.ok) { this.say("The server does not answer. Try again in a moment."); return; }
      this.batch = (await made.json()).batch;
    } else if (folders.length === 0) { this.say("There is no music folder to put them into. Add one first: Library, Folders."); return; }
    const wanted = Number(document.querySelector("[data-upload-folder]")?.value ?? localStorage.getItem(KEPT_FOLDER));
    const folder = this.form ? { id: 0 } : folders.find((each) => each.id === wanted) ?? folders[0];
    this.part("into").textContent = this.form ? "to be converted" : `into ${folder.path}`;
    this.isStopped = false;
    this.isOffering = true;
    this.panel.hidden = false;
    for (let at = 0; at < files.length; at += OFFER_FILES) await this.offer(folder.id, files.slice(at, at + OFFER_FILES));
    this.isOffering = false;
    this.tell();
    this.planIfDone();
  }

  /** Once all files of a batch have come in, they become a plan. */
  planIfDone() {
    if (!this.batch || !this.isIdle() || this.isStopped || this.done === 0) return;
    this.form.elements.batch.value = this.batch;
    this.batch = null;
    this.form.requestSubmit();
  }

  async offer(folder, files) {
    const body = {
      folder, batch: this.batch, files: files.map(({ file, path }) => ({ path, bytes: file.size, modifiedAt: file.lastModified })),
    };
    const answer = await fetch("/uploads", {
      method: "POST",
      headers: { "Content-Type": "application/json", RequestVerificationToken: this.token },
      body: JSON.stringify(body),
    }).catch(() => null);
    const reply = answer?.ok ? await answer.json() : { refusal: "The server does not answer. Choose the files again in a moment." };
    this.total += files.length;
    if (reply.refusal) {
      this.refused += files.length;
      this.say(reply.refusal);
      return;
    }
    reply.files.forEach(({ id, received, refusal }, at) => {
      const item = { ...files[at], id, received: received ?? 0 };
      if (refusal) {
        this.refused += 1;
        this.line(item, refusal, true);
        return;
      }
      this.bytes += item.file.size;
      this.received += item.received;
      this.waiting.push(item);
    });
    this.work();
  }

  work() {
    while (!this.isStopped && this.active < AT_ONCE && this.waiting.length) {
      this.active += 1;
      this.send(this.waiting.shift()).finally(() => { this.active -= 1; this.work(); this.tell(); this.planIfDone(); });
    }
    this.tell();
  }

  async send(item) {
    item.element = this.line(item, "");
    for (let failures = 0; !this.isStopped;) {
      const arrival = await this.sendPiece(item).catch(() => null);
      if (arrival === undefined) { this.end(item, "The server no longer knows this file. Choose it again.", true); return; }
      if (arrival === null) {
        item.element.lastChild.textContent = "Waiting for the server";
        await pause(RETRY_MS[Math.min(failures++, RETRY_MS.length - 1)]);
        continue;
      }
      failures = 0;
      this.received += arrival.received - item.received;
      item.received = arrival.received;
      if (arrival.state === "Done") { this.done += 1; this.end(item, "Here"); return; }
      if (arrival.state === "WasThere") { this.there += 1; this.end(item, "Already in library"); return; }
      if (arrival.state === "Refused") { this.end(item, arrival.refusal, true); return; }
      if (arrival.state === "WrongPlace") await pause(RETRY_MS[0] / 4);
      item.element.lastChild.textContent = `${megabytes(item.received)} of ${megabytes(item.file.size)} MB`;
      this.tell();
    }
    this.waiting.unshift(item);
    item.element.remove();
  }

  /** Bytes the server has; null when it did not answer, undefined when it refuses the file. */
  async sendPiece(item) {
    const piece = item.file.slice(item.received, item.received + PIECE_BYTES);
    const answer = await fetch(`/uploads/${item.id}?at=${item.received}`,
      { method: "PUT", headers: { RequestVerificationToken: this.token }, body: piece });
    if (answer.status === 404 || answer.status === 400) return undefined;
    return answer.ok ? answer.json() : null;
  }

  end(item, words, isRefused = false) {
    if (isRefused) this.refused += 1;
    item.element.lastChild.textContent = words;
    item.element.classList.toggle("text-stop", isRefused);
    if (isRefused) this.lines.prepend(item.element);
  }

  line(item, words, isRefused = false) {
    const line = document.createElement("li");
    const name = document.createElement("span");
    name.textContent = item.path;
    const state = document.createElement("span");
    state.textContent = words;
    line.append(name, state);
    line.classList.toggle("text-stop", isRefused);
    this.lines.prepend(line);
    // Successes from long ago need not be shown.
    while (this.lines.children.length > SHOWN_LINES) [...this.lines.children]
      .findLast((each) => !each.classList.contains("text-stop") || this.lines.children.length > 2 * SHOWN_LINES).remove();
    return line;
  }

  say(words) {
    this.panel.hidden = false;
    const line = document.createElement("li");
    line.className = "text-stop";
    line.textContent = words;
    this.lines.prepend(line);
    this.tell();
  }

  isIdle() { return this.active === 0 && this.waiting.length === 0 && !this.isOffering; }

  tell() {
    const finished = this.done + this.there + this.refused;
    const isIdle = this.isIdle();
    const ended = [
      count(this.done, "file") + " uploaded",
      this.there ? `${this.there.toLocaleString("en")} already in library` : "",
      this.refused ? `${this.refused.toLocaleString("en")} refused` : "",
    ].filter(Boolean).join(", ");
    this.part("title").textContent = isIdle
      ? ended
      : `${finished.toLocaleString("en")} of ${count(this.total, "file")}, ${megabytes(this.received)} of ${megabytes(this.bytes)} MB`;
    this.part("bar").value = this.bytes ? this.received / this.bytes : 0;
    this.part("stop").hidden = isIdle;
    this.part("stop").textContent = this.isStopped ? "Resume" : "Stop";
    this.part("close-panel").hidden = !isIdle;
    this.panel.dataset.state = isIdle ? "ended" : this.isStopped ? "stopped" : "under-way";
  }

  toggle() {
    this.isStopped = !this.isStopped;
    this.work();
  }
}

export function watchUploads() {
  const panel = document.getElementById("upload-panel");
  const overlay = document.getElementById("drop-here");
  const uploads = new UploadPanel(panel);
  const carriesFiles = (event) => event.dataTransfer?.types.includes("Files") && !event.target.closest?.("[data-drop]");

  document.addEventListener("dragover", (event) => {
    if (!carriesFiles(event)) { overlay.hidden = true; return; }
    event.preventDefault();
    overlay.hidden = false;
  });
  document.addEventListener("dragleave", (event) => { if (!event.relatedTarget) overlay.hidden = true; });
  document.addEventListener("drop", async (event) => {
    overlay.hidden = true;
    if (!carriesFiles(event) || event.defaultPrevented) return;
    event.preventDefault();
    // Entries have to be read before the first await.
    const entries = [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
    const files = [...event.dataTransfer.files].map((file) => ({ file, path: file.name }));
    uploads.begin(entries.length ? await filesIn(entries) : files);
  });
  document.addEventListener("change", (event) => {
    if (event.target.matches("[data-upload-folder]")) localStorage.setItem(KEPT_FOLDER, event.target.value);
    if (!event.target.matches("[data-upload]")) return;
    uploads.begin([...event.target.files].map((file) => ({ file, path: file.webkitRelativePath || file.name })));
    event.target.value = "";
  });
  document.querySelectorAll("[data-upload-folder]").forEach((choice) => {
    const kept = localStorage.getItem(KEPT_FOLDER);
    if ([...choice.options].some((option) => option.value === kept)) choice.value = kept;
  });
  panel.addEventListener("click", (event) => {
    if (event.target.matches("[data-stop]")) uploads.toggle();
    if (event.target.matches("[data-close-panel]")) panel.hidden = true;
  });
  addEventListener("beforeunload", (event) => { if (!uploads.isIdle()) event.preventDefault(); });
}
