// The time zone as this device says it; the server says what follows from it. A latitude typed by hand is kept.
const zone = document.getElementById("id_timezone");
const form = zone?.closest("form");

function byHand(event) {
  if (!["latitude", "longitude"].includes(event.target.name) || form.querySelector("[name=by_hand]")) return;
  const mark = Object.assign(document.createElement("input"), { type: "hidden", name: "by_hand", value: "1" });
  form.append(mark);
}

if (zone) {
  form.addEventListener("input", byHand);
  if (!zone.value) {
    zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone ?? "";
    if (zone.value) window.addEventListener("load", () => zone.dispatchEvent(new Event("change", { bubbles: true })));
  }
}
