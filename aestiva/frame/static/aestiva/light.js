// The lamp in the hand: pointer, touch, arrow keys or a typed height move it; the server says what the leaves would get.
const box = document.getElementById("shelf");
let asked = 0, waiting = null, busy = false, again = false;
const gone = new AbortController();

function wire(box) {
  const svg = box.querySelector("svg.lightfront"), handle = svg?.querySelector("[data-handle]");
  const typed = box.querySelector("[data-hang]"), dim = box.querySelector("[data-dim]");
  if (!handle) return;
  const scale = Number(svg.dataset.scale), floor = Number(svg.dataset.floor);
  const factor = Number(handle.dataset.factor), unit = handle.dataset.unit, step = Number(handle.dataset.step);
  const low = Number(handle.getAttribute("aria-valuemin")), high = Number(handle.getAttribute("aria-valuemax"));
  const began = Number(handle.getAttribute("aria-valuenow"));
  const x = /translate\(([\d.]+)/.exec(handle.getAttribute("transform"))[1];
  let now = began;

  const show = (cm) => {
    const lift = (began - cm) * scale; // svg grows downwards
    now = cm;
    for (const part of svg.querySelectorAll("[data-lamp]")) part.setAttribute("transform", `translate(0 ${lift.toFixed(1)})`);
    handle.setAttribute("transform", `translate(${x} ${(floor - cm * scale - 2).toFixed(1)})`);
    handle.setAttribute("aria-valuenow", cm.toFixed(1));
    handle.setAttribute("aria-valuetext", `${(cm * factor).toFixed(1)} ${unit}`);
    for (const word of svg.querySelectorAll("text[data-gap]")) {
      const tip = Number(word.dataset.gap), gap = cm - tip;
      word.textContent = `${Math.round(gap * factor)} ${unit}`;
      word.setAttribute("y", (floor - (tip + gap / 2) * scale + 5).toFixed(1));
      word.previousElementSibling?.setAttribute("d", line(word.previousElementSibling, floor - cm * scale, floor - tip * scale));
    }
    for (const rope of svg.querySelectorAll("[data-hangers] path")) rope.setAttribute("d", rope.getAttribute("d").replace(/V[-\d.]+/, `V${(floor - cm * scale - 5).toFixed(1)}`));
    box.classList.toggle("moved", Math.abs(cm - began) > 0.05);
  };
  const line = (path, lamp, tip) => {
    const at = Number(/M([-\d.]+)/.exec(path.getAttribute("d"))[1]) + 3;
    return `M${at - 3} ${lamp + 2}h6M${at} ${lamp + 2}V${tip}M${at - 3} ${tip}h6`;
  };
  const to = (cm, write = true) => {
    const kept = Math.min(high, Math.max(low, cm));
    show(kept);
    if (write && typed) typed.value = String(Math.round(kept * factor * 10) / 10);
    ask();
  };
  const ask = () => { clearTimeout(waiting); waiting = setTimeout(fetchIt, 60); };
  async function fetchIt() {
    if (busy) { again = true; return; }
    busy = true;
    const mine = ++asked, query = new URLSearchParams({ left: (now * factor).toFixed(2) });
    if (dim?.value) query.set("per_cent", dim.value);
    const reply = await fetch(`${box.dataset.try}?${query}`, { headers: { "HX-Request": "true" }, signal: gone.signal }).catch(() => null);
    busy = false;
    if (reply && (reply.ok || reply.status === 422) && mine === asked) {
      const fresh = new DOMParser().parseFromString(await reply.text(), "text/html"), old = document.getElementById("measured");
      for (const part of ["svg.lightmap", "ul.lightbars", "table.maptable"]) { // only what has changed, so that nothing jumps under the hand
        const was = old.querySelector(part), is = fresh.querySelector(part);
        if (was && is && was.outerHTML !== is.outerHTML) was.replaceWith(document.importNode(is, true));
      }
      const rest = [...fresh.querySelectorAll("p.between")], kept = [...old.querySelectorAll("p.between")];
      rest.forEach((is, n) => { if (kept[n] && kept[n].innerHTML !== is.innerHTML) kept[n].innerHTML = is.innerHTML; });
      box.dataset.answered = String(mine);
    }
    if (again) { again = false; fetchIt(); }
  }

  addEventListener("pagehide", () => gone.abort());
  const snap = (cm) => began + Math.round((cm - began) / step) * step;
  handle.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    handle.setPointerCapture(event.pointerId);
    handle.focus();
    const px = svg.getBoundingClientRect().height / svg.viewBox.baseVal.height, from = event.clientY, at = now;
    const move = (e) => to(snap(at - (e.clientY - from) / px / scale));
    const end = () => { handle.removeEventListener("pointermove", move); handle.classList.remove("held"); };
    handle.classList.add("held");
    handle.addEventListener("pointermove", move);
    handle.addEventListener("pointerup", end, { once: true });
    handle.addEventListener("pointercancel", end, { once: true });
  });
  handle.addEventListener("keydown", (event) => {
    const by = { ArrowUp: step, ArrowRight: step, ArrowDown: -step, ArrowLeft: -step, PageUp: 4 * step, PageDown: -4 * step }[event.key];
    if (by) to(now + by);
    else if (event.key === "Home") to(low);
    else if (event.key === "End") to(high);
    else if (event.key === "Escape") to(began);
    else if (event.key === "Enter") box.querySelector("[data-keep]")?.click();
    else return;
    event.preventDefault();
  });
  typed?.addEventListener("input", () => { const cm = Number(typed.value.replace(",", ".")) / factor; if (Number.isFinite(cm) && cm > 0) to(cm, false); });
  dim?.addEventListener("input", ask);
}
if (box) wire(box);
