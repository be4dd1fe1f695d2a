// The season's room: a slider, arrow keys or a typed day choose the day that is drawn; the server draws it.
const form = document.getElementById("dayslide");
const DAY = 86400000;
const dayOf = (iso) => { const [y, m, d] = iso.split("-").map(Number); return Date.UTC(y, m - 1, d) / DAY; };
const isoOf = (day) => new Date(day * DAY).toISOString().slice(0, 10);
let waiting = null, asked = 0;

function wire(form) {
  const slide = form.querySelector("#slide"), at = form.querySelector("#at");
  form.classList.add("live");
  const box = form.closest("#room"), share = Number(slide.dataset.share) / 100;
  const along = () => { // under the picture's own days: the thumb stands where the line does
    const svg = [...box.querySelectorAll("svg.roomstrips")].find((one) => one.getBoundingClientRect().width);
    if (!svg) return;
    const { left, width } = svg.getBoundingClientRect(), view = svg.viewBox.baseVal.width, row = slide.parentElement.getBoundingClientRect();
    const [names, right] = slide.dataset[svg.classList.contains("narrow") ? "narrow" : "wide"].split(" ").map(Number);
    const from = left + ((names + share * (view - names - right)) / view) * width, to = left + ((view - right) / view) * width;
    slide.style.marginLeft = `${from - row.left - 8}px`;
    slide.style.width = `${to - from + 16}px`;
  };
  along();
  addEventListener("resize", along);
  slide.value = dayOf(at.value) - dayOf(slide.dataset.from);
  slide.addEventListener("input", () => {
    at.value = isoOf(dayOf(slide.dataset.from) + Number(slide.value));
    clearTimeout(waiting);
    waiting = setTimeout(() => draw(at.value, "slide"), 150);
  });
  at.addEventListener("change", () => { if (at.value) draw(at.value, "at"); });
  form.addEventListener("submit", (event) => { event.preventDefault(); if (at.value) draw(at.value, "at"); });
}

// Only what hangs on the day is taken from the page that answers; of answers only the newest counts.
async function draw(day, focus) {
  const mine = ++asked, address = `${location.pathname}?at=${day}`;
  const reply = await fetch(address).catch(() => null);
  if (mine !== asked) return;
  if (!reply?.ok) { location.assign(address); return; }
  const page = new DOMParser().parseFromString(await reply.text(), "text/html");
  for (const part of ["#front", "#room", "#places"]) {
    const fresh = page.querySelector(part), old = document.querySelector(part);
    if (!fresh || !old) continue;
    if (part === "#room") for (const svg of ["wideonly", "phoneonly"]) old.querySelector(`:scope > .${svg}`)?.replaceWith(document.importNode(fresh.querySelector(`:scope > .${svg}`), true));
    else old.replaceWith(document.importNode(fresh, true));
  }
  history.replaceState(null, "", address);
  const note = document.getElementById("benchnote");
  if (note) note.hidden = !document.querySelector("#front")?.dataset.writes;
}
if (form) wire(form);
