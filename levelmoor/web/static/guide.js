// Matching by hand with the live null: a bar of what is reflected, and the best so far with its dials.

const box = document.getElementById("guide");
const LIKE = 0.005; // so little of |Γ| is no change
let best = null;
let last = null;

const gammaOf = (swr) => (swr === null ? 1 : (swr - 1) / (swr + 1));
const dialsNow = () =>
  [...box.querySelectorAll("[data-dial]")].map((one) => [one.dataset.dial, one.value.trim()]).filter(([, at]) => at);

// Each sweep as it comes.
export function guided(sweep) {
  const heard = sweep.heard?.[0];
  if (!box || !heard) return;
  const gamma = gammaOf(heard.swr);
  box.querySelector("[data-bar]").value = 1 - gamma;
  box.querySelector("[data-null]").textContent = `|Γ| ${gamma.toFixed(3)}, SWR ${heard.swr?.toFixed(2) ?? "∞"}, Z ${sweep.ohm}`;
  const way = last === null || Math.abs(gamma - last) < LIKE ? "the same" : gamma < last ? "better" : "worse: back";
  box.querySelector("[data-way]").textContent = way;
  last = gamma;
  if (best === null || gamma < best.gamma - LIKE) {
    best = { gamma, swr: heard.swr, dials: dialsNow() };
    const at = best.dials.map(([knob, mark]) => `${knob} ${mark}`).join(", ") || "dials not noted";
    box.querySelector("[data-best]").textContent = `Best so far: SWR ${heard.swr?.toFixed(2) ?? "∞"} with ${at}`;
  }
}

box?.addEventListener("click", (event) => {
  if (!event.target.closest("[data-anew]")) return;
  best = last = null;
  box.querySelector("[data-best]").textContent = "";
});
// A dial noted belongs to what is seen from now on.
box?.addEventListener("change", (event) => {
  if (event.target.matches("[data-dial]") && best) best.dials = dialsNow();
});
