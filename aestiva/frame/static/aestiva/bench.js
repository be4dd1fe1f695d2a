// Bench: take a tray and put it down elsewhere, by pointer, finger or keys.  Pixels to cm only; what fits is the server's to say.
const front = document.getElementById("front");
const svg = front?.querySelector("svg");
const form = document.getElementById("putform");
const line = document.getElementById("benchnote");
const STEP_CM = 2;

if (svg && form && front.dataset.writes) {
  const scale = Number(svg.dataset.scale);
  const drops = [...svg.querySelectorAll(".drop")];
  const say = (text) => { line.textContent = text; };
  const pointIn = (event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const boxOf = (drop) => ({ x: +drop.getAttribute("x"), y: +drop.getAttribute("y"), w: +drop.getAttribute("width"), h: +drop.getAttribute("height") });
  // the smallest place under a point: a mat before its shelf
  const under = (p) => drops.filter((d) => { const b = boxOf(d); return p.x >= b.x && p.x <= b.x + b.w && p.y >= b.y - 12 && p.y <= b.y + b.h; })
    .sort((a, b) => boxOf(a).w - boxOf(b).w)[0];

  const put = (thing, drop, left) => {
    form.elements.tray.value = thing.dataset.tray;
    form.elements.revision.value = thing.dataset.revision;
    form.elements.spot.value = drop.dataset.spot;
    form.elements.x.value = Math.max(0, (left - Number(drop.dataset.left)) / scale).toFixed(1);
    form.submit();
  };

  const light = (drop) => drops.forEach((d) => d.classList.toggle("on", d === drop));

  const ghostOf = (thing) => {
    const rect = document.createElementNS("http://www.w3.org/2000/svg", "rect");
    rect.setAttribute("class", "ghost");
    rect.setAttribute("width", thing.dataset.wide);
    rect.setAttribute("height", 14);
    svg.append(rect);
    return rect;
  };
  const show = (ghost, x, y) => { ghost.setAttribute("x", x); ghost.setAttribute("y", y - 14); };

  const drag = (thing, down) => {
    const start = pointIn(down), x0 = Number(thing.dataset.x), y0 = Number(thing.dataset.base);
    let ghost = null, at = null, left = x0;
    const follow = (e) => {
      const p = pointIn(e);
      if (!ghost && Math.hypot(p.x - start.x, p.y - start.y) < 5) return;
      ghost ??= ghostOf(thing);
      left = x0 + p.x - start.x;
      show(ghost, left, y0 + p.y - start.y);
      at = under({ x: left + Number(thing.dataset.wide) / 2, y: y0 + p.y - start.y });
      light(at);
      say(at ? `${thing.dataset.name} to ${at.dataset.code}` : `${thing.dataset.name}: no place here`);
    };
    const end = (e) => {
      thing.removeEventListener("pointermove", follow);
      thing.removeEventListener("pointercancel", end);
      ghost?.remove(); light(null);
      if (ghost && at && e.type === "pointerup") { thing.dataset.moved = "yes"; put(thing, at, left); }
      else if (ghost) thing.dataset.moved = "yes";
    };
    thing.setPointerCapture(down.pointerId);
    thing.addEventListener("pointermove", follow);
    thing.addEventListener("pointerup", end, { once: true });
    thing.addEventListener("pointercancel", end, { once: true });
  };

  const keys = (thing) => {
    let ghost = null, at = null, left = 0;
    const here = () => drops.find((d) => d.dataset.spot === thing.dataset.spot) ?? drops[0];
    const leave = () => { ghost?.remove(); ghost = null; light(null); };
    const tell = () => say(`${thing.dataset.name} held over ${at.dataset.code}, ${Math.round(Math.max(0, left - Number(at.dataset.left)) / scale)} cm from its left. Enter puts it down, Esc leaves it.`);
    const move = () => { const b = boxOf(at); show(ghost, left, b.y + b.h - 6); light(at); tell(); };
    thing.addEventListener("keydown", (event) => {
      if (event.key === " ") {
        event.preventDefault();
        if (ghost) return leave();
        at = here(); left = Number(thing.dataset.x); ghost = ghostOf(thing); move();
      } else if (ghost && ["ArrowLeft", "ArrowRight"].includes(event.key)) {
        event.preventDefault();
        const b = boxOf(at), by = (event.key === "ArrowLeft" ? -1 : 1) * STEP_CM * scale;
        left = Math.min(Math.max(b.x, left + by), b.x + b.w - Number(thing.dataset.wide)); move();
      } else if (ghost && ["ArrowUp", "ArrowDown"].includes(event.key)) {
        event.preventDefault();
        const n = drops.indexOf(at) + (event.key === "ArrowUp" ? -1 : 1);
        at = drops[(n + drops.length) % drops.length]; left = boxOf(at).x; move();
      } else if (ghost && event.key === "Enter") {
        event.preventDefault(); put(thing, at, left);
      } else if (ghost && event.key === "Escape") {
        leave(); say("Left where it was.");
      }
    });
    thing.addEventListener("blur", leave);
  };

  for (const thing of svg.querySelectorAll(".thing[data-tray]")) {
    thing.addEventListener("pointerdown", (event) => { if (event.button === 0) drag(thing, event); });
    thing.addEventListener("click", (event) => { if (thing.dataset.moved) { event.preventDefault(); delete thing.dataset.moved; } });
    thing.addEventListener("dragstart", (event) => event.preventDefault());
    keys(thing);
  }
}
