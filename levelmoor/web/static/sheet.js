// The run sheet in the field: runs are ticked off and noted, with a signal or without.

import { fieldQueue, ident } from "./field-queue.js";

const sheet = document.getElementById("sheet");

function enter(run) {
  const entry = {
    id: ident(),
    run_key: run.dataset.run,
    done: run.querySelector("[data-tick]").getAttribute("aria-pressed") === "true",
    note: run.querySelector("[data-note]").value,
    made_at: new Date().toISOString(),
  };
  show(run, entry);
  queue.put(entry);
}

function show(run, stands) {
  const tick = run.querySelector("[data-tick]");
  tick.setAttribute("aria-pressed", String(stands.done));
  tick.textContent = stands.done ? "Done" : "Tick it off";
  run.classList.toggle("ticked", stands.done);
  if (!run.querySelector("[data-note]").matches(":focus, [data-half]")) run.querySelector("[data-note]").value = stands.note;
  const by = stands.by ? `, ${stands.by}` : ", on this device";
  if (stands.others) run.querySelector("[data-others]").textContent = stands.others.map((one) => one.join(": ")).join("; ");
  run.querySelector("[data-when]").textContent = stands.made_at.slice(0, 16).replace("T", " ") + " UTC" + by;
}

const queue = fieldQueue({
  address: sheet.dataset.ticks,
  name: "entries",
  follows: true,
  changed: () => queueMicrotask(showWaiting),
  label: (entry) => `${entry.done ? "Done" : "Not done"}${entry.note ? `: ${entry.note}` : ""}`,
  said({ runs }) {
    const own = new Set(queue.waiting().map((entry) => entry.run_key));
    for (const run of sheet.querySelectorAll("[data-run]")) {
      const stands = runs[run.dataset.run];
      if (stands && !own.has(run.dataset.run)) show(run, stands);
    }
  },
});

function showWaiting() {
  for (const entry of queue.waiting()) {
    const run = sheet.querySelector(`[data-run="${CSS.escape(entry.run_key)}"]`);
    if (run) show(run, entry);
  }
}
sheet.addEventListener("click", (event) => {
  const tick = event.target.closest("[data-tick]");
  if (!tick) return;
  tick.setAttribute("aria-pressed", String(tick.getAttribute("aria-pressed") !== "true"));
  enter(tick.closest("[data-run]"));
});
sheet.addEventListener("change", (event) => {
  if (!event.target.matches("[data-note]")) return;
  window.levelmoorForget(event.target); // it is in the outbox now
  enter(event.target.closest("[data-run]"));
});
sheet.addEventListener("submit", (event) => {
  event.preventDefault();
  event.target.querySelector("[data-note]").blur();
});
