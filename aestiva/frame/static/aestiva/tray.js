// A tray: pick cells by tap, by keys, by typing; what is picked is the text of one field, which the server reads.
const svg = document.querySelector(".traymap");
const field = document.getElementById("cells");
const count = document.getElementById("pickedcount");
const words = document.getElementById("pickedwords");
const said = document.getElementById("said");

if (svg && field) {
  const cells = [...svg.querySelectorAll("[data-cell]")];
  const by = new Map(cells.map((c) => [c.dataset.name, c]));
  const at = new Map(cells.map((c) => [`${c.dataset.col},${c.dataset.row}`, c]));
  const picked = new Set();
  const columns = Math.max(...cells.map((c) => Number(c.dataset.name.replace(/^[A-Z]+/, ""))));
  let here = cells[0];

  const number = (name) => { let n = 0; for (const s of name) n = n * 26 + s.charCodeAt(0) - 64; return n; };
  const split = (name) => { const m = /^([A-Z]+)(\d+)?$/.exec(name.trim().toUpperCase()); return m && { row: number(m[1]), col: m[2] ? Number(m[2]) : null }; };
  // “A7”, “B”, “A–C”, “A1–B5”, with commas; what cannot be read is left to the server's answer
  const read = (text) => {
    const found = [];
    for (const part of text.split(/[,;]/).filter((p) => p.trim())) {
      const ends = part.split(/[-–:]/).map(split);
      if (ends.some((e) => !e) || ends.length > 2) continue;
      const [a, b] = [ends[0], ends[ends.length - 1]];
      for (const cell of cells) {
        const c = split(cell.dataset.name);
        const inRow = c.row >= Math.min(a.row, b.row) && c.row <= Math.max(a.row, b.row);
        const inCol = a.col === null || b.col === null || (c.col >= Math.min(a.col, b.col) && c.col <= Math.max(a.col, b.col));
        if (inRow && inCol) found.push(cell);
      }
    }
    return found;
  };
  const write = () => {
    const runs = [];
    for (const cell of cells) {
      if (!picked.has(cell)) continue;
      const last = runs[runs.length - 1], n = Number(cell.dataset.cell);
      if (last && n === last[1] + 1 && (n - 1) % columns) last[1] = n; else runs.push([n, n]);
    }
    return runs.map(([a, b]) => cells[a - 1].dataset.name + (b > a ? `–${cells[b - 1].dataset.name}` : "")).join(", ");
  };
  const show = (typed) => {
    for (const cell of cells) cell.setAttribute("aria-selected", picked.has(cell) ? "true" : "false");
    if (!typed) field.value = write();
    count.textContent = picked.size;
    const kinds = {};
    for (const cell of picked) { const kind = cell.getAttribute("aria-label").split(", ").slice(1).join(", "); kinds[kind] = (kinds[kind] ?? 0) + 1; }
    words.textContent = picked.size ? `picked: ${Object.entries(kinds).slice(0, 3).map(([k, n]) => `${n} ${k}`).join("; ")}` : "picked";
  };
  const toggle = (cell) => { if (picked.has(cell)) picked.delete(cell); else picked.add(cell); show(false); };
  const go = (cell, along) => {
    if (!cell) return;
    here.setAttribute("tabindex", "-1");
    here = cell;
    here.setAttribute("tabindex", "0");
    here.focus();
    if (along) { picked.add(cell); show(false); }
  };

  here.setAttribute("tabindex", "0");
  for (const cell of cells) {
    cell.addEventListener("click", () => { toggle(cell); go(cell, false); });
    cell.addEventListener("keydown", (event) => {
      const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      const [x, y] = [Number(cell.dataset.col), Number(cell.dataset.row)];
      if (step) { event.preventDefault(); if (event.shiftKey) picked.add(cell); go(at.get(`${x + step[0]},${y + step[1]}`), event.shiftKey); }
      else if (event.key === "Home") { event.preventDefault(); go(at.get(`0,${y}`), false); }
      else if (event.key === "End") { event.preventDefault(); go([...cells].filter((c) => Number(c.dataset.row) === y).pop(), false); }
      else if (event.key === " " || event.key === "Enter") {
        event.preventDefault(); toggle(cell);
        said.textContent = `${cell.dataset.name} ${picked.has(cell) ? "picked" : "no longer picked"}, ${picked.size} in all`;
      } else if (event.key === "Escape") { picked.clear(); show(false); said.textContent = "nothing picked"; }
    });
  }
  field.addEventListener("input", () => { picked.clear(); for (const cell of read(field.value)) picked.add(cell); show(true); });
  document.querySelectorAll("[data-pick]").forEach((button) => button.addEventListener("click", () => {
    picked.clear();
    if (button.dataset.pick === "all") cells.forEach((c) => picked.add(c));
    show(false);
  }));
  // Enter in the field must not press the first button of the page
  field.addEventListener("keydown", (event) => { if (event.key === "Enter") event.preventDefault(); });
  if (field.value) { for (const cell of read(field.value)) picked.add(cell); show(true); }
}
