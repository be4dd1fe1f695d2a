// The frame's small behaviours: drawers, steppers, keys of lists. No arithmetic beyond days and counts typed.

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-opens]");
  if (opener) document.getElementById(opener.dataset.opens)?.showModal();
  if (event.target.closest("[data-print]")) window.print();
  const puts = event.target.closest("[data-puts]");
  if (puts) {
    const field = document.getElementById(puts.dataset.into);
    field.value = puts.dataset.puts;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  }
  const stepper = event.target.closest("[data-add]");
  if (stepper) {
    const field = stepper.closest("form").querySelector("input[name=count]");
    field.value = Math.max(0, Number(field.value || field.dataset.last || 0) + Number(stepper.dataset.add));
  }
});

// Single keys go where a link or field of the page says; they can be switched off on this device.
const KEYS_OFF = "aestiva-no-keys";
const off = document.getElementById("keysoff");
if (off) {
  off.checked = localStorage.getItem(KEYS_OFF) === "1";
  off.addEventListener("change", () => localStorage.setItem(KEYS_OFF, off.checked ? "1" : "0"));
}

document.addEventListener("keydown", (event) => {
  const typing = event.target.closest?.("input, textarea, select, dialog");
  const plain = !event.ctrlKey && !event.altKey && !event.metaKey;
  if (!typing && plain && localStorage.getItem(KEYS_OFF) !== "1") {
    if (event.key === "?") document.getElementById("help")?.showModal();
    else if (event.key === "f") {
      const search = document.querySelector("input[type=search]");
      if (search) { event.preventDefault(); search.focus(); }
    } else document.querySelector(`[data-key="${CSS.escape(event.key)}"]`)?.click();
  }
});

// In a list one Tab stop a row: the field or button of its usual answer. ← and → go through what else is in the row, ↑ and ↓
// to the row above and below; Escape leaves a field for the row's button. Without scripts everything is a Tab stop.
const ROWS = "article.task, article.lotrow, table.list > tbody > tr";
const APART = ".whybox, .bundle, .fold > .rows";
function controls(row) {
  return [...row.querySelectorAll("a[href], button, summary, input:not([type=hidden]), select")].filter((one) => !one.closest(APART) || one.closest(APART).contains(row));
}
function mainOf(row, all) {
  return row.querySelector(".do input:not([type=hidden])") ?? [...row.querySelectorAll(".do > form > .btn")].pop() ?? all[0];
}
function rove(root) {
  for (const row of root.querySelectorAll?.(ROWS) ?? []) {
    const all = controls(row);
    if (all.length < 2) continue;
    const main = mainOf(row, all);
    for (const one of all) one.tabIndex = one === main ? 0 : -1;
  }
}
document.addEventListener("htmx:load", () => rove(document));
rove(document);
document.addEventListener("keydown", (event) => {
  const row = event.target.closest?.(ROWS);
  if (!row || event.ctrlKey || event.altKey || event.metaKey || event.target.closest(APART)) return;
  const all = controls(row), typing = event.target.matches("input, select");
  if (event.key === "Escape" && typing) {
    (all.find((one) => one.matches(".btn:not([type=button])")) ?? all[0])?.focus();
    return;
  }
  if (typing || !["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
    const next = all.indexOf(event.target) + (event.key === "ArrowRight" ? 1 : -1);
    all[(next + all.length) % all.length]?.focus();
    return;
  }
  const rows = [...document.querySelectorAll(ROWS)].filter((one) => one.checkVisibility?.() ?? true);
  const beside = rows[rows.indexOf(row) + (event.key === "ArrowDown" ? 1 : -1)];
  if (beside) mainOf(beside, controls(beside))?.focus();
});

document.addEventListener("htmx:afterSwap", (event) => {
  if (event.target.id === "answer") event.target.scrollIntoView({ block: "nearest" });
});

// A row that a tap took away leaves the hand at the row after it, whatever else is under way.
const rowAfter = new WeakMap(); // by request
document.addEventListener("htmx:beforeRequest", (event) => {
  const row = event.target.closest?.(".task");
  if (row && event.detail.requestConfig.verb === "post") {
    rowAfter.set(event.detail.xhr, { row, after: row.nextElementSibling ?? row.previousElementSibling });
  }
});
document.addEventListener("htmx:afterRequest", (event) => {
  const tapped = rowAfter.get(event.detail.xhr);
  if (tapped && !tapped.row.isConnected) tapped.after?.querySelector(".do button:not([data-add])")?.focus({ preventScroll: true });
});

// Beside every day field its weekday and month in letters: the field itself shows figures, in the browser's own order.
const inLetters = new Intl.DateTimeFormat(document.documentElement.lang === "en" ? "en-GB" : undefined, { weekday: "short", day: "numeric", month: "long", timeZone: "UTC" });
function sayDay(field) {
  let said = field.parentElement.querySelector(":scope > .saysday");
  if (!said) {
    said = Object.assign(document.createElement("span"), { className: "saysday" });
    field.after(said);
  }
  const day = field.value ? new Date(`${field.value}T00:00:00Z`) : null;
  said.textContent = day && !Number.isNaN(day.valueOf()) ? inLetters.format(day).replace(",", "") : "";
}
function sayDays(root) {
  for (const field of root.querySelectorAll?.("input[type=date]") ?? []) sayDay(field);
}
document.addEventListener("input", (event) => { if (event.target.matches?.("input[type=date]")) sayDay(event.target); });
document.addEventListener("htmx:load", (event) => sayDays(event.detail.elt));
sayDays(document);

// A post that came to nothing says so: an answer that is no answer brings the page as it is now, none at all a sentence.
document.addEventListener("htmx:responseError", (event) => {
  if (event.detail.requestConfig.verb === "post") window.location.reload();
});
document.addEventListener("htmx:sendError", (event) => {
  const note = document.createElement("div");
  note.className = "refused";
  note.setAttribute("role", "alert");
  note.textContent = "No answer from the server: nothing is known to be written. Look at the page again once it is there.";
  event.target.closest?.(".task, main")?.prepend(note);
});
