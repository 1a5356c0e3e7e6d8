// Trials of a tuner in the field: a stopwatch, large buttons for what came of it, kept without a signal.

import { fieldQueue, ident } from "./field-queue.js";
import { localTime } from "./local-time.js";
import { meterNull } from "./meter-null.js";
import { HANDED, networkDials } from "./null-search.js";

const box = document.getElementById("trials");
const entry = document.getElementById("trial-entry");
const doubt = document.getElementById("doubt");
const face = entry.querySelector("[data-face]");
const dials = networkDials(entry);
const TYPED = ["frequency", "load", "power", "before", "after", "seconds", "dials", "note"];
let ahead = JSON.parse(box.dataset.ahead);

// -- What was refused, and what waits, can be put right ----------------------------------------------------------

function line(words, change) {
  const made = document.createElement("p");
  made.append(`${change.typed.frequency} MHz into ${change.typed.load || "its load"}: ${words} `);
  const again = document.createElement("button");
  again.type = "button";
  again.textContent = "Correct it";
  again.addEventListener("click", () => {
    queue.drop(change.id);
    writeAgain(change);
  });
  made.append(again);
  return made;
}

function showWaiting() {
  const refused = queue.refused().map((act) => line(act.why, act.entry));
  const waiting = queue.waiting().map((change) => line("waiting to be sent", change));
  document.getElementById("refused").replaceChildren(...refused); // above the entry: what is wrong is seen first
  document.getElementById("waiting").replaceChildren(...waiting);
}

function writeAgain(change) {
  for (const name of TYPED) if (entry.elements[name]) entry.elements[name].value = change.typed[name] ?? "";
  entry.elements.memory.checked = change.typed.memory === "yes";
  if (entry.elements.sweep) entry.elements.sweep.value = change.sweep ?? "";
  entry.elements.frequency.focus();
}

const queue = fieldQueue({
  address: box.dataset.send,
  name: "trials",
  label: ({ typed }) => `Trial: ${typed.frequency} MHz into ${typed.load || "its load"}`,
  changed: () => queueMicrotask(showWaiting),
  said({ html, ahead: next }) {
    document.getElementById("trial-lines").outerHTML = html;
    ahead = next;
    propose();
  },
});

// -- What was matched by hand becomes a trial ---------------------------------------------------------------------

function take({ swr, dials: noted, network, frequency = "", power = "" }) {
  entry.elements.after.value = swr === null ? "" : String(Number(swr.toFixed(2)));
  if (frequency) entry.elements.frequency.value = frequency;
  if (power) entry.elements.power.value = power;
  dials.write(network, noted);
  entry.querySelector("details").open = true;
  entry.scrollIntoView({ block: "start" });
}
const byMeter = document.getElementById("by-meter");
if (byMeter) meterNull(byMeter, take);

// -- The next trial ----------------------------------------------------------------------------------------------

const same = (a, b) => a.frequency === b.frequency && (a.load ?? "") === (b.load ?? "") && a.memory === b.memory;
function propose() {
  const { frequency, load, power, memory } = entry.elements;
  if (frequency.value && frequency.value !== frequency.dataset.proposed) return;
  const next = ahead.find((one) => !queue.waiting().some((change) => same(one, change.typed)));
  if (!next) return;
  [frequency.value, load.value, power.value, memory.checked] = [next.frequency, next.load, next.power, next.memory === "yes"];
  frequency.dataset.proposed = next.frequency;
}

// -- The stopwatch: from the key to silence ----------------------------------------------------------------------

let began = 0;
let ticking = 0;
const watch = entry.querySelector("[data-watch]");
const seconds = () => ((performance.now() - began) / 1000).toFixed(1);
function stopWatch() {
  if (!began) return;
  clearInterval(ticking);
  face.textContent = `${seconds()} s`;
  entry.elements.seconds.value = seconds();
  began = 0;
  watch.textContent = "Transmit: start";
}
watch.addEventListener("click", () => {
  if (began) {
    stopWatch();
    return;
  }
  began = performance.now();
  watch.textContent = "Silence: stop";
  ticking = setInterval(() => (face.textContent = `${seconds()} s`), 100);
});

// -- Keeping -----------------------------------------------------------------------------------------------------

entry.addEventListener("submit", (event) => {
  event.preventDefault();
  stopWatch();
  const outcome = event.submitter?.value ?? "matched";
  const typed = Object.fromEntries(TYPED.map((name) => [name, entry.elements[name]?.value.trim() ?? ""]));
  typed.dials = [...dials.noted().map(([knob, at]) => `${knob}: ${at}`), typed.dials].filter(Boolean).join("; ");
  typed.memory = entry.elements.memory.checked ? "yes" : "no";
  if (!typed.frequency) {
    doubt.textContent = "Enter the frequency.";
    entry.elements.frequency.focus();
    return;
  }
  if (outcome === "matched" && !typed.after) {
    doubt.textContent = "Read the SWR after the match, then press Matched: without it the trial shows nothing about the claim.";
    entry.elements.after.focus();
    return;
  }
  doubt.textContent = "";
  const named = { sweep: entry.elements.sweep?.value ?? "", network: entry.elements.network?.value ?? "" };
  const placed = JSON.parse(box.dataset.placed);
  queue.put({ id: ident(), made_at: localTime(new Date()), typed: { ...typed, outcome }, ...named, placed });
  for (const name of ["frequency", "before", "after", "seconds", "note"]) entry.elements[name].value = "";
  face.textContent = "0.0 s";
  propose();
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt.closest?.("[data-reload]") && event.detail.successful) location.reload();
});
propose();
const handed = sessionStorage.getItem(HANDED);
if (handed) {
  sessionStorage.removeItem(HANDED);
  take(JSON.parse(handed));
}
