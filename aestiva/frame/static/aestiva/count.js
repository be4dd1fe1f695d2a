// Counting with one hand: taps change the number, keeping it is a tap of its own.
for (const form of document.querySelectorAll("form[data-count]")) {
  const field = form.querySelector("input[name=count]");
  form.addEventListener("click", (event) => {
    const step = event.target.closest?.("[data-add]");
    if (!step) return;
    field.value = Math.max(0, (Number.parseInt(field.value, 10) || 0) + Number(step.dataset.add));
    form.classList.add("changed");
  });
}
