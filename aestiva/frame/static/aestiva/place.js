// The frost line as a handle: a ghost while it moves, the server's answer at most every 120 ms, late answers dropped.
const box = document.querySelector("#curve:not([data-still])");
const answer = document.getElementById("lineanswer");
const EVERY = 120;
let asked = 0, shown = 0, waiting = null, last = 0;

const iso = (first, days) => {
  const day = new Date(`${first}T12:00:00Z`);
  day.setUTCDate(day.getUTCDate() + days);
  return day.toISOString().slice(0, 10);
};

const ask = async (on, light) => {
  const mine = ++asked;
  const response = await fetch(`${box.dataset.line}&on=${on}${light ? "&light=1" : ""}`);
  if (mine < shown || !response.ok) return;
  shown = mine;
  answer.innerHTML = await response.text();
};

const soon = (on, light) => {
  clearTimeout(waiting);
  const rest = light ? Math.max(0, EVERY - (performance.now() - last)) : 0;
  waiting = setTimeout(() => { last = performance.now(); ask(on, light); }, rest);
};

const move = (svg, index, light) => {
  const { first, left, right, days } = svg.dataset;
  const end = Number(days) - 1;
  const at = Math.min(end, Math.max(0, index));
  const handle = svg.querySelector(".line");
  const x = Number(left) + (at / end) * (Number(right) - Number(left));
  handle.setAttribute("transform", `translate(${x.toFixed(1)} 0)`);
  handle.querySelector(".grip").setAttribute("cy", svg.dataset.ys.split(" ")[at]);
  handle.setAttribute("aria-valuenow", at);
  const on = iso(first, at);
  handle.setAttribute("aria-valuetext", on);
  svg.classList.add("moved");
  soon(on, light);
};

for (const svg of box ? box.querySelectorAll("svg") : []) {
  const handle = svg.querySelector(".line");
  if (!handle) continue;
  const indexAt = (event) => {
    const { left, right, days } = svg.dataset;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return Math.round(((point.x - Number(left)) / (Number(right) - Number(left))) * (Number(days) - 1));
  };
  handle.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    handle.setPointerCapture(event.pointerId);
    handle.focus();
    const follow = (e) => move(svg, indexAt(e), true);
    handle.addEventListener("pointermove", follow);
    const done = (e) => {
      handle.removeEventListener("pointermove", follow);
      move(svg, indexAt(e), false);
    };
    handle.addEventListener("pointerup", done, { once: true });
  });
  handle.addEventListener("keydown", (event) => {
    const step = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    if (!step) return;
    event.preventDefault();
    move(svg, Number(handle.getAttribute("aria-valuenow")) + step * (event.shiftKey ? 7 : 1), false);
  });
}
