// Matching a tuner by hand: where its dials stand, whether a reading is better or worse than the one before, and the best
// so far.

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

// The search in a box: `seen` is told each reading, null where everything is reflected; `best` is the best so far.
export function nullSearch(box) {
  const dials = networkDials(box);
  const said = (name, words) => (box.querySelector(`[data-${name}]`).textContent = words);
  let best = null;
  let last = null;
  function anew() {
    best = last = null;
    said("best", "");
    said("way", "");
  }
  box.addEventListener("click", (event) => event.target.closest("[data-anew]") && anew());
  box.addEventListener("change", (event) => event.target.matches("[data-network]") && anew());
  return {
    dials,
    best: () => best,
    seen(swr) {
      const gamma = gammaOf(swr);
      said("way", last === null ? "" : Math.abs(gamma - last) < LIKE ? "the same" : gamma < last ? "better" : "worse: back");
      last = gamma;
      if (best !== null && gamma >= best.gamma - LIKE) return gamma;
      best = { gamma, swr, dials: dials.noted(), network: dials.network() };
      const at = best.dials.map(([knob, mark]) => `${knob} ${mark}`).join(", ") || "dials not noted";
      said("best", `Best so far: SWR ${swrWords(swr)} with ${at}`);
      return gamma;
    },
    // A dial written now belongs to what was seen last, where that is the best.
    noted() {
      if (best && last === best.gamma) best.dials = dials.noted();
    },
  };
}

// -- On the live view: each sweep as it comes ------------------------------------------------------------------------

const box = document.getElementById("guide");
const search = box && nullSearch(box);
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
