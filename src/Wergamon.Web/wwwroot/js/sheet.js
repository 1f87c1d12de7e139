// The tag sheet: files as rows, fields as columns, typed like a spreadsheet. Only the rows in sight are in the page.
const ROW_PX = 37, NAME_PX = 190, AROUND = 12, SAVE_MS = 120, FACTS_MS = 160;
const ALL = -1; // The first row stands for all files.

class Sheet {
  constructor(root) {
    this.root = root;
    this.address = root.dataset.sheet;
    this.row = 0;
    this.column = 0;
    this.anchor = null;
    this.history = [];
    this.waiting = new Map();
    this.token = document.querySelector("#sheet-bar input[name=__RequestVerificationToken]").value;
  }

  async load() {
    const data = await (await fetch(`${this.address}?handler=Data`)).json();
    this.columns = data.columns;
    this.files = data.files.map((file) => ({ ...file, changed: new Set(file.changed), held: null }));
    this.root.replaceChildren();
    this.head = this.add(this.root, "grid-head", "row");
    this.all = this.add(this.root, "grid-all", "row");
    this.body = this.add(this.root, "grid-body", "rowgroup");
    this.body.style.height = `${this.files.length * ROW_PX}px`;
    this.widths = `${NAME_PX}px ${this.columns.map((column) => `${column.width}px`).join(" ")}`;
    const width = NAME_PX + this.columns.reduce((sum, column) => sum + column.width, 0);
    for (const part of [this.head, this.all, this.body]) part.style.minWidth = `${width}px`;
    this.head.style.gridTemplateColumns = this.widths;
    this.root.setAttribute("aria-colcount", this.columns.length + 1);
    this.head.setAttribute("aria-rowindex", 1);
    this.all.setAttribute("aria-rowindex", 2);
    for (const [column, label] of ["File", ...this.columns.map((each) => each.label)].entries())
      this.addCell(this.head, "grid-cell", "columnheader", column).textContent = label;
    this.root.addEventListener("scroll", () => this.draw());
    new ResizeObserver(() => this.draw()).observe(this.root);
    this.listen();
    this.draw();
    this.root.dataset.ready = "true";
    this.showFacts();
  }

  add(parent, name, role) {
    const part = document.createElement("div");
    part.className = name;
    part.setAttribute("role", role);
    parent.append(part);
    return part;
  }

  /** Only a part of the rows is in the page, so each cell says in which column it is. */
  addCell(parent, name, role, column) {
    const cell = this.add(parent, name, role);
    cell.setAttribute("aria-colindex", column + 1);
    return cell;
  }

  text(row, column) { return row === ALL ? this.shared(column).text : this.files[row].cells[column]; }

  shared(column) {
    const kinds = new Set(this.files.map((file) => file.cells[column]));
    return kinds.size === 1
      ? { text: [...kinds][0], words: [...kinds][0] }
      : { text: "", words: this.columns[column].width < 90 ? "differ" : `differ (${kinds.size})` };
  }

  range() {
    const from = this.anchor ?? { row: this.row, column: this.column };
    return {
      top: Math.min(from.row, this.row), bottom: Math.max(from.row, this.row),
      left: Math.min(from.column, this.column), right: Math.max(from.column, this.column),
    };
  }

  drawCell(parent, row, column, chosen) {
    const cell = this.addCell(parent, "grid-cell", "gridcell", column + 1);
    cell.dataset.row = row;
    cell.dataset.column = column;
    const { isNumber } = this.columns[column];
    cell.classList.toggle("digits", isNumber);
    if (row === ALL) {
      const shared = this.shared(column);
      cell.textContent = shared.words;
      cell.classList.toggle("differs", shared.words !== shared.text);
    } else {
      cell.textContent = this.files[row].cells[column];
      const isChanged = this.files[row].changed.has(column);
      cell.classList.toggle("is-changed", isChanged);
      if (isChanged) cell.setAttribute("aria-description", "changed, not written yet");
    }
    cell.title = cell.textContent;
    const isIn = row >= chosen.top && row <= chosen.bottom && column >= chosen.left && column <= chosen.right;
    cell.classList.toggle("is-chosen", isIn);
    cell.setAttribute("aria-selected", isIn);
    if (row === this.row && column === this.column) {
      cell.classList.add("is-current");
      cell.id = "grid-current";
      this.root.setAttribute("aria-activedescendant", cell.id);
    }
  }

  draw() {
    if (this.input) return;
    const chosen = this.range();
    const first = Math.max(0, Math.floor(this.root.scrollTop / ROW_PX) - AROUND);
    const last = Math.min(this.files.length - 1, Math.ceil((this.root.scrollTop + this.root.clientHeight) / ROW_PX) + AROUND);
    this.all.replaceChildren();
    this.all.style.gridTemplateColumns = this.widths;
    this.addCell(this.all, "grid-cell grid-name", "rowheader", 0).textContent = `all ${this.files.length} files`;
    this.columns.forEach((_, column) => this.drawCell(this.all, ALL, column, chosen));
    this.body.replaceChildren();
    for (let row = first; row <= last; row++) {
      const line = this.add(this.body, "grid-row", "row");
      line.style.top = `${row * ROW_PX}px`;
      line.style.gridTemplateColumns = this.widths;
      line.setAttribute("aria-rowindex", row + 3);
      const name = this.addCell(line, "grid-cell grid-name", "rowheader", 0);
      name.textContent = name.title = this.files[row].name;
      name.classList.toggle("is-here", row === this.row);
      this.columns.forEach((_, column) => this.drawCell(line, row, column, chosen));
    }
  }

  moveTo(row, column, extend = false) {
    if (extend) this.anchor ??= { row: this.row, column: this.column };
    else this.anchor = null;
    const before = this.row;
    this.row = Math.min(this.files.length - 1, Math.max(ALL, row));
    this.column = Math.min(this.columns.length - 1, Math.max(0, column));
    this.reveal();
    this.draw();
    if (this.row !== before) this.showFacts();
  }

  reveal() {
    const top = this.row * ROW_PX, fixed = 2 * ROW_PX;
    if (this.row >= 0 && top < this.root.scrollTop) this.root.scrollTop = top;
    if (this.row >= 0 && top + ROW_PX > this.root.scrollTop + this.root.clientHeight - fixed)
      this.root.scrollTop = top + ROW_PX + fixed - this.root.clientHeight;
    const left = this.columns.slice(0, this.column).reduce((sum, column) => sum + column.width, 0);
    const width = this.columns[this.column].width;
    if (left < this.root.scrollLeft) this.root.scrollLeft = left;
    if (left + width + NAME_PX > this.root.scrollLeft + this.root.clientWidth)
      this.root.scrollLeft = left + width + NAME_PX - this.root.clientWidth;
  }

  // Changes of cells are one step back with Ctrl+Z, and are sent together.
  change(cells) {
    const done = [];
    for (const { row, column, text } of cells) {
      for (const at of row === ALL ? this.files.keys() : [row]) {
        const file = this.files[at];
        if (!file || file.cells[column] === text) continue;
        done.push({ row: at, column, text: file.cells[column], wasChanged: file.changed.has(column) });
        this.put(at, column, text, true);
      }
    }
    if (done.length > 0) this.history.push(done);
    this.draw();
  }

  put(row, column, text, isChanged) {
    const file = this.files[row];
    file.cells[column] = text;
    if (isChanged) file.changed.add(column);
    else file.changed.delete(column);
    this.waiting.set(`${file.id} ${column}`, { id: file.id, field: this.columns[column].name, text });
    this.root.dataset.saved = "false";
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.save(), SAVE_MS);
  }

  back() {
    const step = this.history.pop();
    if (!step) return;
    for (const { row, column, text, wasChanged } of step) this.put(row, column, text, wasChanged);
    this.draw();
  }

  async save() {
    const cells = [...this.waiting.values()];
    this.waiting.clear();
    const bar = document.getElementById("sheet-bar");
    const answer = await fetch(`${this.address}?handler=Cells`, {
      method: "POST", headers: { "Content-Type": "application/json", RequestVerificationToken: this.token }, body: JSON.stringify(cells),
    }).catch(() => null);
    if (!answer?.ok) {
      bar.querySelector("[data-kept]").textContent =
        "The last changes could not be saved. Check that the application is running; they are sent again with the next change.";
      cells.forEach((cell) => { this.waiting.set(`${cell.id} ${cell.field}`, cell); });
      return;
    }
    const tally = await answer.json();
    bar.dataset.edits = tally.edits;
    bar.querySelector("[data-count]").textContent = tally.words;
    bar.querySelector("button").hidden = tally.edits === 0;
    const review = bar.querySelector("[data-review]");
    review.textContent = tally.button;
    review.classList.toggle("disabled", tally.edits === 0);
    if (this.waiting.size === 0) this.root.dataset.saved = "true";
    this.showFacts();
  }

  showFacts() {
    clearTimeout(this.factsTimer);
    const file = this.files[this.row];
    const show = () => window.htmx.ajax(
      "GET", `${this.address}?handler=Facts&copy=${file.id}`, { target: "#facts", swap: "innerHTML" });
    if (file) this.factsTimer = setTimeout(show, FACTS_MS);
  }

  edit(text) {
    const cell = this.root.querySelector(".is-current");
    if (!cell) return;
    this.input = document.createElement("input");
    this.input.className = "grid-input";
    this.input.value = text ?? this.text(this.row, this.column);
    this.input.setAttribute("aria-label", this.columns[this.column].label);
    cell.replaceChildren(this.input);
    this.input.focus();
    this.input.addEventListener("blur", () => this.endEdit(true));
  }

  endEdit(isKept) {
    if (!this.input) return;
    const { value } = this.input;
    this.input = null;
    if (isKept && (this.row !== ALL || value !== this.text(this.row, this.column)))
      this.change([{ row: this.row, column: this.column, text: value }]);
    this.draw();
    this.root.focus({ preventScroll: true });
  }

  chosenCells() {
    const { top, bottom, left, right } = this.range();
    const cells = [];
    for (let row = top; row <= bottom; row++) for (let column = left; column <= right; column++) cells.push({ row, column });
    return cells;
  }

  copyText() {
    const { top, bottom, left, right } = this.range();
    const lines = [];
    for (let row = top; row <= bottom; row++) {
      const line = [];
      for (let column = left; column <= right; column++) line.push(quote(this.text(row, column)));
      lines.push(line.join("\t"));
    }
    return lines.join("\n");
  }

  // A single text fills all chosen cells; a block goes from the first of them on.
  paste(block) {
    const lines = parse(block);
    const { top, left } = this.range();
    if (lines.length === 1 && lines[0].length === 1) {
      this.change(this.chosenCells().map((cell) => ({ ...cell, text: lines[0][0] })));
      return;
    }
    const cells = [];
    lines.forEach((line, down) => line.forEach((text, across) => {
      if (left + across < this.columns.length && top + down < this.files.length)
        cells.push({ row: top + down, column: left + across, text });
    }));
    this.change(cells);
    this.anchor = { row: top, column: left };
    this.row = Math.min(this.files.length - 1, top + lines.length - 1);
    this.column = Math.min(this.columns.length - 1, left + Math.max(...lines.map((line) => line.length)) - 1);
    this.draw();
  }

  fillDown() {
    const { top, bottom, left, right } = this.range();
    const from = top === bottom ? top - 1 : top;
    if (from < 0) return;
    const cells = [];
    for (let row = from + 1; row <= bottom; row++) for (let column = left; column <= right; column++)
      cells.push({ row, column, text: this.text(from, column) });
    this.change(cells);
  }

  keyInCell(event) {
    const steps = { Enter: [event.shiftKey ? -1 : 1, 0], Tab: [0, event.shiftKey ? -1 : 1] };
    if (event.key === "Escape") this.endEdit(false);
    else if (steps[event.key]) {
      const [down, across] = steps[event.key];
      this.endEdit(true);
      this.moveTo(this.row + down, this.column + across);
    } else return;
    event.preventDefault();
  }

  key(event) {
    if (this.input) { this.keyInCell(event); event.stopPropagation(); return; }
    const isCommand = event.ctrlKey || event.metaKey;
    const page = Math.max(1, Math.floor(this.root.clientHeight / ROW_PX) - 3);
    const moves = {
      ArrowDown: [1, 0], ArrowUp: [-1, 0], ArrowRight: [0, 1], ArrowLeft: [0, -1], PageDown: [page, 0], PageUp: [-page, 0],
      Home: isCommand ? [-this.files.length, 0] : [0, -this.columns.length],
      End: isCommand ? [this.files.length, 0] : [0, this.columns.length],
    };
    if (moves[event.key]) this.moveTo(this.row + moves[event.key][0], this.column + moves[event.key][1], event.shiftKey);
    else if (event.key === "Enter" || event.key === "F2") this.edit();
    else if (event.key === "Tab") {
      const next = this.column + (event.shiftKey ? -1 : 1);
      // Out of the sheet at its edges, as everywhere else.
      if (next < 0 || next >= this.columns.length) return;
      this.moveTo(this.row, next);
    } else if (event.key === "Delete" || event.key === "Backspace") this.change(this.chosenCells().map((cell) => ({ ...cell, text: "" })));
    else if (isCommand && event.key.toLowerCase() === "d") this.fillDown();
    else if (isCommand && event.key.toLowerCase() === "z") this.back();
    else if (isCommand && event.key.toLowerCase() === "a") {
      this.anchor = { row: 0, column: 0 };
      [this.row, this.column] = [this.files.length - 1, this.columns.length - 1];
      this.draw();
    }
    else if (isCommand && event.key === " ") document.querySelector("#facts [data-play]")?.click();
    else if (!isCommand && !event.altKey && event.key.length === 1) this.edit(event.key);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  listen() {
    this.root.addEventListener("keydown", (event) => this.key(event));
    this.root.addEventListener("mousedown", (event) => {
      const cell = event.target.closest("[data-column]");
      if (!cell || event.target === this.input) return;
      this.endEdit(true);
      this.moveTo(Number(cell.dataset.row), Number(cell.dataset.column), event.shiftKey);
      this.root.focus({ preventScroll: true });
      this.isDragging = true;
      event.preventDefault();
    });
    this.root.addEventListener("mouseover", (event) => {
      const cell = this.isDragging && event.target.closest("[data-column]");
      if (cell) this.moveTo(Number(cell.dataset.row), Number(cell.dataset.column), true);
    });
    document.addEventListener("mouseup", () => { this.isDragging = false; });
    this.root.addEventListener("dblclick", (event) => { if (event.target.closest("[data-column]")) this.edit(); });
    for (const name of ["copy", "cut"]) {
      document.addEventListener(name, (event) => {
        if (document.activeElement !== this.root) return;
        event.clipboardData.setData("text/plain", this.copyText());
        if (name === "cut") this.change(this.chosenCells().map((cell) => ({ ...cell, text: "" })));
        event.preventDefault();
      });
    }
    document.addEventListener("paste", (event) => {
      if (document.activeElement !== this.root) return;
      this.paste(event.clipboardData.getData("text/plain"));
      event.preventDefault();
    });
    window.addEventListener("beforeunload", (event) => { if (this.waiting.size > 0) event.preventDefault(); });
  }
}

// Spreadsheets put quotes around a text with tabs, line ends or quotes.
const quote = (text) => (/[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

function parse(block) {
  const lines = [[]];
  const pattern = /(?:"((?:[^"]|"")*)"|([^\t\n]*))(\t|\r?\n|$)/gy;
  const text = block.replaceAll("\r\n", "\n").replace(/\n$/, "");
  for (let match = pattern.exec(text); match; match = pattern.exec(text)) {
    lines.at(-1).push(match[1] === undefined ? match[2] : match[1].replaceAll('""', '"'));
    if (match[3] === "") break;
    if (match[3] !== "\t") lines.push([]);
  }
  return lines;
}

export function watchSheet() {
  const root = document.querySelector("[data-sheet]");
  if (root) new Sheet(root).load();
}
