// The run sheet in the field: entries are kept on the telephone until the server has them, and sent again if in doubt.

const sheet = document.getElementById("sheet");
const key = `levelmoor-entries-${sheet?.dataset.evaluation}`;
const signal = document.getElementById("signal");

function waiting() {
  try {
    return JSON.parse(localStorage.getItem(key) ?? "[]");
  } catch {
    return [];
  }
}

function say(words, wrong = false) {
  signal.textContent = words;
  signal.className = wrong ? "wrong" : "quiet";
}

function enter(run) {
  const entry = {
    entry_id: crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2, 14)}`,
    run_key: run.dataset.run,
    done: run.querySelector("[data-tick]").getAttribute("aria-pressed") === "true",
    note: run.querySelector("[data-note]").value,
    made_at: new Date().toISOString(),
  };
  localStorage.setItem(key, JSON.stringify([...waiting(), entry]));
  show(run, entry);
  send();
}

function show(run, stands) {
  const tick = run.querySelector("[data-tick]");
  tick.setAttribute("aria-pressed", String(stands.done));
  tick.textContent = stands.done ? "Done" : "Tick it off";
  run.classList.toggle("ticked", stands.done);
  if (document.activeElement !== run.querySelector("[data-note]")) run.querySelector("[data-note]").value = stands.note;
  const by = stands.by ? `, ${stands.by}` : ", on this telephone";
  run.querySelector("[data-when]").textContent = stands.made_at.slice(0, 16).replace("T", " ") + " UTC" + by;
}

let sending = false;
async function send() {
  const entries = waiting();
  if (sending) return;
  sending = true;
  if (entries.length) say(`${entries.length} ${entries.length === 1 ? "entry waits" : "entries wait"} for a signal; nothing is lost.`);
  try {
    const answer = await fetch(sheet.dataset.ticks, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) },
      body: JSON.stringify({ entries: entries.slice(0, 500) }),
      redirect: "error",
    });
    const said = await answer.json();
    if (!answer.ok) throw new Error(said.problem);
    const kept = new Set(said.kept);
    const left = waiting().filter((entry) => !kept.has(entry.entry_id));
    localStorage.setItem(key, JSON.stringify(left));
    const own = new Set(left.map((entry) => entry.run_key));
    for (const run of sheet.querySelectorAll("[data-run]")) {
      const stands = said.runs[run.dataset.run];
      if (stands && !own.has(run.dataset.run)) show(run, stands);
    }
    say(left.length ? `${left.length} wait for a signal.` : "Every entry is kept.");
  } catch {
    if (entries.length) say(`${entries.length} ${entries.length === 1 ? "entry waits" : "entries wait"} for a signal; nothing is lost.`);
    else say("No signal; entries are kept on this telephone.");
  } finally {
    sending = false;
  }
}

if (sheet) {
  for (const entry of waiting()) {
    const run = sheet.querySelector(`[data-run="${CSS.escape(entry.run_key)}"]`);
    if (run) show(run, entry);
  }
  sheet.addEventListener("click", (event) => {
    const tick = event.target.closest("[data-tick]");
    if (!tick) return;
    tick.setAttribute("aria-pressed", String(tick.getAttribute("aria-pressed") !== "true"));
    enter(tick.closest("[data-run]"));
  });
  sheet.addEventListener("change", (event) => {
    if (event.target.matches("[data-note]")) enter(event.target.closest("[data-run]"));
  });
  addEventListener("online", send);
  setInterval(send, 20_000);
  send();
  navigator.serviceWorker?.register("/sheet-worker.js").catch(() => {});
}
