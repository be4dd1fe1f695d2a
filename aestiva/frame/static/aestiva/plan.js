// The season picture under the hand: a seed is moved by pointer, touch or keys; the server says what that moves.
// No arithmetic but pixels ↔ days. Nothing is kept before somebody says so.

const look = document.getElementById("look");
const answer = document.getElementById("answer");
const tries = new Map(); // planting → day tried, as year-month-day
const MOST_OFTEN_MS = 120;
const undrawn = new Set(); // plantings whose row is not yet as it was tried
let asked = 0, waiting = null, last = 0;

const dayOf = (iso) => { const [y, m, d] = iso.split("-").map(Number); return Date.UTC(y, m - 1, d) / 86400000; };
const isoOf = (day) => new Date(day * 86400000).toISOString().slice(0, 10);
const drawing = () => [...document.querySelectorAll(".drawing")].find((one) => one.checkVisibility?.() ?? true);
const handleOf = (planting) => drawing()?.querySelector(`.handle[data-planting="${planting}"]`);

function tryDay(planting, day, kept) {
  if (day === kept) tries.delete(planting); else tries.set(planting, day);
  undrawn.add(planting);
  ask();
}

// At most every 120 ms; of answers only the newest counts.
function ask() {
  clearTimeout(waiting);
  const wait = Math.max(0, last + MOST_OFTEN_MS - performance.now());
  waiting = setTimeout(() => { last = performance.now(); fetchAnswer(); }, wait);
}

async function fetchAnswer() {
  const mine = ++asked;
  const moves = [...tries].map(([pk, day]) => `${pk}.${day}`), back = [...undrawn].filter((pk) => !tries.has(pk)).map((pk) => `${pk}.${baseOf(pk)}`);
  if (!moves.length) answer.replaceChildren();
  const scale = drawing()?.dataset.scale ?? "";
  const query = new URLSearchParams({ moves: moves.join(","), back: back.join(","), draw: [...undrawn].join(","), scale });
  let found;
  try {
    const reply = await fetch(`${look.dataset.asks}?${query}`, { headers: { Accept: "application/json" } });
    if (!reply.ok) throw new Error(reply.statusText);
    found = await reply.json();
  } catch {
    if (mine === asked) answer.textContent = "No answer from the server: nothing is kept. Try once more.";
    return;
  }
  if (mine !== asked) return;
  for (const [key, inside] of Object.entries(found.rows)) redraw(key, inside);
  undrawn.clear();
  if (tries.size) {
    answer.innerHTML = found.panel;
    window.htmx?.process(answer);
    const shown = answer.querySelector("input[name=look]");
    if (shown) shown.value = window.location.search;
  }
  const said = document.getElementById("said");
  if (said) said.textContent = found.said;
  showRoom();
}

// Room on the bench below the rows, with the moves that were tried; what stood there stays where nothing answers.
let rooms = 0;
async function showRoom() {
  const box = document.getElementById("roomstrip");
  if (!box || !box.checkVisibility?.()) return;
  const mine = ++rooms, moves = [...tries].map(([pk, day]) => `${pk}.${day}`).join(",");
  const reply = await fetch(`${box.dataset.asks}?${new URLSearchParams({ moves, scale: drawing()?.dataset.scale ?? "" })}`).catch(() => null);
  const svg = reply?.ok ? await reply.text() : "";
  if (mine === rooms && svg) { box.innerHTML = svg; keepNames(box.closest(".scroll")); }
}

const bases = new Map(); // planting → the day that is kept
function baseOf(planting) {
  if (!bases.has(planting)) bases.set(planting, (handleOf(planting) ?? document.querySelector(`input[data-planting="${planting}"]`))?.dataset.sow ?? "");
  return bases.get(planting);
}

function redraw(key, inside) {
  const row = drawing()?.querySelector(`#row-${CSS.escape(key)}`);
  if (!row) return;
  const had = row.contains(document.activeElement) && document.activeElement.matches(".handle");
  const fresh = new DOMParser().parseFromString(`<svg xmlns="http://www.w3.org/2000/svg">${inside}</svg>`, "image/svg+xml");
  row.replaceChildren(...[...fresh.documentElement.childNodes].map((node) => document.importNode(node, true)));
  row.classList.toggle("changed", tries.has(key));
  const handle = row.querySelector(".handle");
  if (handle && had) handle.focus({ preventScroll: true });
  rove(row.querySelector(".stop"));
  const field = document.querySelector(`input[data-planting="${CSS.escape(key)}"]`);
  if (field && handle && field !== document.activeElement) field.value = tries.get(key) ?? baseOf(key);
}

// ---- by keys: one Tab stop; ↑ ↓ go from row to row, ← → move the seed
let stop = null;
function stops() { return [...(drawing()?.querySelectorAll(".stop") ?? [])]; }
function rove(to) {
  if (!to) return;
  for (const one of stops()) one.setAttribute("tabindex", one === to ? "0" : "-1");
  stop = to;
}
function begin() {
  const all = stops();
  if (all.length) rove(all.find((one) => one.matches(".handle")) ?? all[0]);
  for (const link of drawing()?.querySelectorAll(".rowlink:not(.stop)") ?? []) link.setAttribute("tabindex", "-1");
}

document.addEventListener("keydown", (event) => {
  const here = event.target.closest?.(".drawing .stop, .drawing .rowlink");
  if (!here || event.ctrlKey || event.altKey || event.metaKey) return;
  if (event.key === "ArrowUp" || event.key === "ArrowDown") {
    event.preventDefault();
    const all = stops(), next = all[all.indexOf(here) + (event.key === "ArrowDown" ? 1 : -1)];
    if (next) { rove(next); next.focus(); next.scrollIntoView({ block: "nearest" }); }
    return;
  }
  if (!here.matches(".handle")) return;
  const { planting, sow, from, to } = here.dataset, now = dayOf(tries.get(planting) ?? sow), kept = baseOf(planting);
  const step = event.shiftKey ? 7 : 1;
  const days = { ArrowLeft: now - step, ArrowRight: now + step, Home: dayOf(from), End: dayOf(to), Escape: dayOf(kept), PageUp: now - 28, PageDown: now + 28 };
  if (event.key === "Enter") { here.parentElement.querySelector(".rowlink")?.dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true })); return; }
  if (!(event.key in days)) return;
  event.preventDefault();
  ghost(here, days[event.key] - dayOf(here.dataset.sow));
  tryDay(planting, isoOf(days[event.key]), kept);
});
document.addEventListener("focusin", (event) => {
  const here = event.target.closest?.(".drawing .stop");
  if (here) rove(here);
});

// ---- by pointer and touch: a ghost follows the hand
function ghost(handle, days) {
  handle.setAttribute("transform", `translate(${days * Number(handle.dataset.day)} 0)`);
}
let held = null;
document.addEventListener("pointerdown", (event) => {
  const handle = event.target.closest?.(".handle");
  if (!handle || event.button) return;
  event.preventDefault();
  baseOf(handle.dataset.planting);
  const svg = handle.ownerSVGElement;
  held = { planting: handle.dataset.planting, svg, x: event.clientX, sow: dayOf(handle.dataset.sow), px: Number(handle.dataset.day) * (svg.getBoundingClientRect().width / svg.viewBox.baseVal.width), id: event.pointerId, moved: 0 };
  handle.classList.add("held");
  rove(handle);
  handle.focus({ preventScroll: true });
});
document.addEventListener("pointermove", (event) => {
  if (!held || event.pointerId !== held.id) return;
  const days = Math.round((event.clientX - held.x) / held.px);
  if (days === held.moved) return;
  held.moved = days;
  const day = held.sow + days, handle = handleOf(held.planting);
  if (handle) { ghost(handle, day - dayOf(handle.dataset.sow)); handle.classList.add("held"); }
  tryDay(held.planting, isoOf(day), baseOf(held.planting));
});
for (const end of ["pointerup", "pointercancel"]) document.addEventListener(end, (event) => {
  if (!held || event.pointerId !== held.id) return;
  handleOf(held.planting)?.classList.remove("held");
  held = null;
});

// ---- typed in the list
document.addEventListener("change", (event) => {
  const field = event.target.closest?.("input[data-planting]");
  if (!field || !field.value) return;
  baseOf(field.dataset.planting);
  tryDay(field.dataset.planting, field.value, field.dataset.sow);
});

document.addEventListener("click", (event) => {
  if (!event.target.closest?.("[data-letbe]")) return;
  tries.clear();
  window.location.reload();
});
// ---- what stays put: names while the picture scrolls sideways, the axis with it, the season small at the side
function keepNames(box) {
  const shift = box.scrollLeft, svg = box.querySelector("svg.rows");
  if (!svg) return;
  const wide = svg.getBoundingClientRect().width;
  if (!wide) return; // not shown at this width
  const per = svg.viewBox.baseVal.width / wide;
  for (const name of svg.querySelectorAll(".stay")) name.setAttribute("transform", `translate(${shift * per} 0)`);
  const stays = box.parentElement.querySelector(".stays");
  if (stays) stays.scrollLeft = shift;
}
for (const box of document.querySelectorAll(".seasonbox .scroll")) box.addEventListener("scroll", () => keepNames(box), { passive: true });

const small = document.querySelector(".smallseason");
function showViewport() {
  const rows = document.querySelector("svg.rows")?.getBoundingClientRect(), window_ = small?.querySelector(".viewport");
  if (!rows || !window_ || !rows.height) return;
  const height = small.viewBox.baseVal.height, top = Math.max(0, -rows.top) / rows.height, end = Math.min(rows.height, innerHeight - rows.top) / rows.height;
  window_.setAttribute("y", top * height);
  window_.setAttribute("height", Math.max(0, end - top) * height);
}
if (small) {
  addEventListener("scroll", showViewport, { passive: true });
  addEventListener("resize", showViewport);
  small.addEventListener("click", (event) => {
    const box = small.getBoundingClientRect(), rows = document.querySelector("svg.rows").getBoundingClientRect();
    scrollTo({ top: scrollY + rows.top + ((event.clientY - box.top) / box.height) * rows.height - innerHeight / 2 });
  });
  showViewport();
}

// ---- a group is laid open in its place
document.addEventListener("click", async (event) => {
  const link = event.target.closest?.("a[data-fold]");
  if (!link || event.ctrlKey || event.metaKey || event.shiftKey) return;
  event.preventDefault();
  const address = link.getAttribute("href"), fold = link.dataset.fold;
  const reply = await fetch(address), page = new DOMParser().parseFromString(await reply.text(), "text/html");
  for (const part of ["#picture", "#list"]) {
    const fresh = page.querySelector(part);
    if (fresh) document.querySelector(part).replaceWith(document.importNode(fresh, true));
  }
  history.pushState(null, "", address);
  if (window.htmx) window.htmx.process(document.querySelector("#picture"));
  begin();
  document.querySelector(`a[data-fold="${CSS.escape(fold)}"]`)?.focus({ preventScroll: true });
});

// Filters answer at once; the button is for those who have no scripts.
look?.classList.add("live");
look?.addEventListener("change", () => { if (look.elements.rest !== document.activeElement) look.requestSubmit(); });
document.addEventListener("htmx:afterSwap", begin);
begin();
showRoom();
