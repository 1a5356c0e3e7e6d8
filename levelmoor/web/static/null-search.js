// Matching a tuner by hand: where its dials stand, whether a reading is better or worse than the one before, and the best
// so far.

import { hear } from "./spoken-marks.js";
import { gammaOf } from "./tone.js";

const LIKE = 0.005; // so little of |Γ| is no change
const swrWords = (swr) => swr?.toFixed(2) ?? "∞";

// The dials of the network that is chosen; those of the others stay hidden, with its steps.
export function networkDials(root) {
  const chosen = root.querySelector("[data-network]");
  const show = () => {
    for (const part of root.querySelectorAll("[data-of]")) part.hidden = part.dataset.of !== chosen.value;
  };
  chosen?.addEventListener("change", show);
  const fields = () => [...root.querySelectorAll("[data-dial]")].filter((one) => !one.closest("[data-of][hidden]"));
  return {
    fields,
    network: () => chosen?.value ?? "",
    noted: () => fields().map((one) => [one.dataset.dial, one.value.trim()]).filter(([, at]) => at),
    write(network, dials) {
      if (chosen && network) chosen.value = network;
      if (chosen) show();
      for (const one of fields()) one.value = dials.find(([knob]) => knob === one.dataset.dial)?.[1] ?? "";
    },
  };
}

// The search in a box: `seen` is told each reading, null where everything is reflected; `best` is the best so far. Marks
// belong to a reading only if they were written for it, before or after: once a knob may have been moved without a word,
// they are not known, and what is written next belongs to that reading. `live` readings come by themselves: those that
// change after marks were written ahead belong to them until they stand still again.
export function nullSearch(box, live = false) {
  const dials = networkDials(box);
  hear(box, dials.fields);
  const said = (name, words) => (box.querySelector(`[data-${name}]`).textContent = words);
  let best = null;
  let last = null;
  let marks = null; // of the reading seen last; null where they are not known
  let ahead = false; // written for the next reading
  let moving = false;
  function anew() {
    best = last = null;
    ahead = moving = false;
    said("best", "");
    said("way", "");
    ask(false);
  }
  const written = () => (dials.noted().length ? dials.noted() : null);
  function ask(open) {
    const question = box.querySelector("[data-whose]");
    if (question) question.hidden = !open;
  }
  function tell() {
    const at = best.dials.map(([knob, mark]) => `${knob} ${mark}`).join(", ");
    said("best", `Best so far: SWR ${swrWords(best.swr)} ${at ? `with ${at}` : "(marks not noted: enter them)"}`);
  }
  function give() {
    best.dials = dials.noted();
    if (last === best.gamma) marks = best.dials;
    ask(false);
    tell();
  }
  box.addEventListener("click", (event) => {
    if (event.target.closest("[data-anew]")) anew();
    if (event.target.closest("[data-of-best]")) give();
    if (event.target.closest("[data-of-now]")) {
      marks = dials.noted();
      ask(false);
    }
  });
  box.addEventListener("change", (event) => event.target.matches("[data-network]") && anew());
  return {
    dials,
    best: () => best,
    seen(swr) {
      const gamma = gammaOf(swr);
      const changed = last !== null && Math.abs(gamma - last) >= LIKE;
      said("way", last === null ? "" : !changed ? "the same" : gamma < last ? "better" : "worse: back");
      if (last === null || (ahead && (changed || !live))) {
        marks = written();
        moving = live && ahead;
        ahead = false;
      } else if (changed && !moving) marks = null;
      else if (!changed) moving = false;
      last = gamma;
      if (best !== null && gamma >= best.gamma - LIKE) return gamma;
      best = { gamma, swr, dials: marks ?? [], network: dials.network() };
      tell();
      return gamma;
    },
    // Marks that are written now: of the best where those are not known, else of the next reading.
    noted() {
      const unknown = best && !best.dials.length;
      if (unknown && last === best.gamma) give();
      else if (unknown) ask(true);
      else if (live && marks === null && last !== null) marks = written();
      else ahead = true;
    },
  };
}

// -- On the live view: each sweep as it comes ------------------------------------------------------------------------

const box = document.getElementById("guide");
const search = box && nullSearch(box, true);
let heardAt = 0;
export function guided(sweep) {
  const heard = sweep.heard?.[0];
  if (!search) return;
  if (!heard) {
    box.querySelector("[data-null]").textContent = "no target is in the sweep";
    return;
  }
  heardAt = heard.hz;
  const gamma = search.seen(heard.swr);
  box.querySelector("[data-bar]").value = 1 - gamma;
  box.querySelector("[data-null]").textContent = `|Γ| ${gamma.toFixed(3)}, SWR ${swrWords(heard.swr)}, Z ${sweep.ohm}`;
}
box?.addEventListener("change", (event) => event.target.matches("[data-dial]") && search.noted());

// The best so far goes to the trials page, which writes it into the entry.
export const HANDED = `levelmoor-null-${location.pathname.match(/\d+/)?.[0]}`; // an evaluation's own
box?.querySelector("[data-hand-on]")?.addEventListener("click", () => {
  const best = search.best();
  if (!best) return;
  const frequency = heardAt ? String(Number((heardAt / 1e6).toFixed(6))) : "";
  sessionStorage.setItem(HANDED, JSON.stringify({ ...best, frequency, power: "analyzer" }));
});
