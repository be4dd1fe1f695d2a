// Beds: draw, move and resize by pointer and keys.  Pixels to squares only; what fits is the server's to say.
const EVERY = 120;
const board = document.getElementById("bedboard");
const csrf = () => document.querySelector("[name=csrfmiddlewaretoken]")?.value ?? "";
const key = () => crypto.randomUUID().replaceAll("-", "");
let asked = 0, shown = 0, timer = null, last = 0;

const note = (text) => {
  const line = document.getElementById("bednote");
  if (!line) return;
  line.textContent = text;
  line.classList.toggle("quietnote", !text);
};

const askFit = (query) => {
  clearTimeout(timer);
  timer = setTimeout(async () => {
    last = performance.now();
    const mine = ++asked;
    const answer = await fetch(`${board.dataset.fit}?${new URLSearchParams(query)}`);
    if (mine < shown || !answer.ok) return;
    shown = mine;
    note(await answer.text());
  }, Math.max(0, EVERY - (performance.now() - last)));
};

const swap = async (response) => {
  asked += 1; shown = asked;
  if (response.status === 409) {  // somebody else was quicker: how it is now, with a word on it
    await fetch(board.dataset.self, { headers: { "X-Part": "board" } }).then(swap);
    return note("Somebody changed this in the meantime. Nothing of yours was written; here is how it is now.");
  }
  if (!response.ok) return note("That did not reach the garden: try again.");
  const focused = document.activeElement?.dataset?.area;
  board.innerHTML = await response.text();
  setUp();
  if (focused) board.querySelector(`[data-area="${focused}"]`)?.focus();
};

const post = (url, values) => {
  const body = new FormData();
  const week = document.getElementById("week")?.value;
  const by = document.querySelector("#weeks [name=by]")?.value;
  for (const [name, value] of Object.entries({ ...values, csrfmiddlewaretoken: csrf(), key: key(), week, by })) body.set(name, value ?? "");
  return fetch(url, { method: "POST", body, headers: { "X-Part": "board" } }).then(swap);
};

const pointIn = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());

const measure = (svg) => {
  const scale = Number(svg.dataset.scale), grid = Number(svg.dataset.grid);
  return { scale, grid, snap: (px) => Math.round(px / scale / grid) * grid };
};

const ghostOf = (svg) => {
  const rect = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  rect.setAttribute("class", "ghost");
  svg.append(rect);
  return rect;
};

const put = (ghost, svg, r, inset) => {
  const { scale } = measure(svg);
  for (const [name, value] of [["x", inset + r.x * scale], ["y", inset + r.y * scale], ["width", r.l * scale], ["height", r.w * scale]])
    ghost.setAttribute(name, value.toFixed(1));
};

const own = (area) => ({ x: Number(area.dataset.x), y: Number(area.dataset.y), l: Number(area.dataset.l), w: Number(area.dataset.w) });

const held = (svg, r) => {
  const length = Number(svg.dataset.length), width = Number(svg.dataset.width), { grid } = measure(svg);
  const l = Math.min(r.l > 0 ? r.l : grid, length), w = Math.min(r.w > 0 ? r.w : grid, width);
  return { x: Math.min(Math.max(0, r.x), length - l), y: Math.min(Math.max(0, r.y), width - w), l, w };
};

const drag = (svg, area, event) => {
  const corner = event.target.classList.contains("corner");
  const start = pointIn(svg, event), from = own(area), { snap } = measure(svg);
  const ghost = ghostOf(svg);
  let now = from;
  event.preventDefault();
  area.setPointerCapture(event.pointerId);
  const follow = (e) => {
    const p = pointIn(svg, e), dx = snap(p.x - start.x), dy = snap(p.y - start.y);
    now = held(svg, corner ? { ...from, l: from.l + dx, w: from.w + dy } : { ...from, x: from.x + dx, y: from.y + dy });
    put(ghost, svg, now, 4);
    askFit({ area: area.dataset.area, l: now.l, w: now.w });
  };
  area.addEventListener("pointermove", follow);
  area.addEventListener("pointerup", () => {
    area.removeEventListener("pointermove", follow);
    ghost.remove();
    if (JSON.stringify(now) === JSON.stringify(from)) return area.focus();
    post(`${board.dataset.areas}${area.dataset.area}/`, { ...now, revision: area.dataset.revision });
  }, { once: true });
};

const keys = (svg, area) => {
  let ghost = null, now = own(area);
  const leave = () => { ghost?.remove(); ghost = null; now = own(area); };
  area.addEventListener("keydown", (event) => {
    const { grid } = measure(svg);
    const [dx, dy] = { ArrowLeft: [-grid, 0], ArrowRight: [grid, 0], ArrowUp: [0, -grid], ArrowDown: [0, grid] }[event.key] ?? [0, 0];
    if (dx || dy) {
      event.preventDefault();
      now = held(svg, event.shiftKey ? { ...now, l: now.l + dx, w: now.w + dy } : { ...now, x: now.x + dx, y: now.y + dy });
      ghost ??= ghostOf(svg);
      put(ghost, svg, now, 4);
      askFit({ area: area.dataset.area, l: now.l, w: now.w });
    } else if (event.key === "Enter" && ghost) {
      event.preventDefault();
      post(`${board.dataset.areas}${area.dataset.area}/`, { ...now, revision: area.dataset.revision });
      ghost.remove();
    } else if (event.key === "Escape" && ghost) {
      leave(); note("");
    } else if (event.key === "Delete") {
      event.preventDefault();
      post(`${board.dataset.areas}${area.dataset.area}/`, { lift: "yes", revision: area.dataset.revision });
    }
  });
  area.addEventListener("blur", leave);
};

// a rectangle drawn on free squares: in a bed it lays the chosen planting out, on the plot it fills the form of a new bed
const drawOn = (svg, inset, moving, done) => {
  svg.addEventListener("pointerdown", (event) => {
    if (event.target.closest("[data-area], a")) return;
    const { snap, scale } = measure(svg);
    const start = pointIn(svg, event), ghost = ghostOf(svg);
    let r = null;
    event.preventDefault();
    svg.setPointerCapture(event.pointerId);
    const follow = (e) => {
      const p = pointIn(svg, e);
      const x0 = snap(Math.min(start.x, p.x) - inset), y0 = snap(Math.min(start.y, p.y) - inset);
      const x1 = snap(Math.max(start.x, p.x) - inset), y1 = snap(Math.max(start.y, p.y) - inset);
      r = x1 > x0 && y1 > y0 ? { x: Math.max(0, x0), y: Math.max(0, y0), l: x1 - Math.max(0, x0), w: y1 - Math.max(0, y0) } : null;
      if (r) { put(ghost, svg, r, inset); moving(r, scale); }
    };
    svg.addEventListener("pointermove", follow);
    svg.addEventListener("pointerup", () => {
      svg.removeEventListener("pointermove", follow);
      if (r) done(r, ghost); else ghost.remove();
    }, { once: true });
  });
};

const setUp = () => {
  const svg = board?.querySelector("svg.bed");
  if (svg) {
    for (const area of svg.querySelectorAll("[data-area]")) {
      area.addEventListener("pointerdown", (event) => drag(svg, area, event));
      keys(svg, area);
    }
    const chosen = () => board.querySelector(".laying [name=planting]:checked")?.value;
    if (board.querySelector(".laying [name=planting]"))
      drawOn(svg, 4, (r) => askFit({ planting: chosen() ?? "", l: r.l, w: r.w }), (r, ghost) => {
        if (!chosen()) { ghost.remove(); return note("Choose what to lay out first, under “Looking for a place”."); }
        post(board.dataset.place, { planting: chosen(), ...r });
      });
  }
  const slider = document.getElementById("weekslider");
  if (!slider) return;
  const weeks = slider.dataset.weeks.trim().split(" ");
  const select = document.getElementById("week");
  slider.value = Math.max(0, weeks.indexOf(select.value));
  slider.addEventListener("input", () => {
    select.value = weeks[slider.value];
    document.getElementById("weekname").textContent = select.selectedOptions[0].textContent;
  });
  let rest = null;
  slider.addEventListener("change", () => {  // keys fire it week by week: only where they come to rest is asked for
    clearTimeout(rest);
    rest = setTimeout(async () => {
      const by = document.querySelector("#weeks [name=by]").value;
      if (!board) { location.search = `?week=${select.value}&by=${by}`; return; }
      await fetch(`${board.dataset.self}?week=${select.value}&by=${by}`, { headers: { "X-Part": "board" } }).then(swap);
      document.getElementById("weekslider")?.focus();
    }, 2 * EVERY);
  });
};

// a bed on the plot follows pointer or arrow keys as a ghost; keeping it is an ordinary post
const moveBeds = (svg, form) => {
  const keep = (bed, now) => {
    form.action = form.dataset.action.replace("/0/", `/${bed.dataset.bed}/`);
    form.elements.revision.value = bed.dataset.revision;
    form.elements.x.value = now.x;
    form.elements.y.value = now.y;
    form.submit();
  };
  for (const bed of svg.querySelectorAll("[data-bed]")) {
    const from = own(bed);
    let ghost = null, now = from, dragged = false;
    const leave = () => { ghost?.remove(); ghost = null; now = from; };
    const to = (x, y) => {
      now = held(svg, { ...from, x, y });
      ghost ??= ghostOf(svg);
      put(ghost, svg, now, 0);
    };
    bed.addEventListener("dragstart", (event) => event.preventDefault());
    bed.addEventListener("click", (event) => { if (dragged) event.preventDefault(); });
    bed.addEventListener("pointerdown", (event) => {
      dragged = false;
      if (event.pointerType === "touch" || event.button) return;
      const start = pointIn(svg, event), { snap } = measure(svg), stop = new AbortController();
      document.addEventListener("pointermove", (e) => {
        const p = pointIn(svg, e), dx = snap(p.x - start.x), dy = snap(p.y - start.y);
        if (!dragged && !dx && !dy) return;
        dragged = true;
        to(from.x + dx, from.y + dy);
      }, { signal: stop.signal });
      document.addEventListener("pointerup", () => {
        stop.abort();
        if (ghost && (now.x !== from.x || now.y !== from.y)) keep(bed, now); else leave();
      }, { signal: stop.signal });
    });
    bed.addEventListener("keydown", (event) => {
      const { grid } = measure(svg);
      const [dx, dy] = { ArrowLeft: [-grid, 0], ArrowRight: [grid, 0], ArrowUp: [0, -grid], ArrowDown: [0, grid] }[event.key] ?? [0, 0];
      if (dx || dy) { event.preventDefault(); to(now.x + dx, now.y + dy); }
      else if (event.key === "Enter" && ghost) { event.preventDefault(); keep(bed, now); }
      else if (event.key === "Escape") leave();
    });
    bed.addEventListener("blur", leave);
  }
};

const plot = document.querySelector("#plot svg.plot");
const moving = document.getElementById("bedmove");
if (plot && moving) moveBeds(plot, moving);
const form = document.querySelector("#draw form");
if (plot && form) {
  let kept = null;
  drawOn(plot, 0, () => {}, (r, ghost) => {
    kept?.remove();
    kept = ghost;
    const say = (cm) => (cm * form.dataset.perCm).toFixed(form.dataset.places);
    document.getElementById("draw").open = true;
    for (const [name, cm] of [["length_cm", r.l], ["width_cm", r.w], ["x_cm", r.x], ["y_cm", r.y]]) form.elements[name].value = say(cm);
    form.elements.code.focus();
  });
}
setUp();
