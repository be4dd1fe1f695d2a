// A day at the bench: soaks count down while the page is open; they are due on the server all the same.
const rings = document.querySelectorAll("[data-due]");
const tick = () => {
  for (const one of rings) {
    const minutes = Math.ceil((new Date(one.dataset.due) - Date.now()) / 60000);
    const words = one.querySelector("b"), box = one.closest(".soaking");
    if (minutes > 0) words.textContent = `${Math.floor(minutes / 60)}:${String(minutes % 60).padStart(2, "0")}`;
    else if (!box.classList.contains("rings")) {
      words.textContent = "now";
      box.classList.add("rings");
      box.setAttribute("role", "alert");
      navigator.vibrate?.([300, 150, 300]);
    }
  }
};
if (rings.length) { tick(); setInterval(tick, 5000); }
