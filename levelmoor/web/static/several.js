// Several sweeps in one figure: read off all at once by pointer, keys or touch, and look closer at a range.

import { frequency, reflection, returnLoss } from "./reflection.js";

const parsed = new WeakMap();

function curvesOf(panel) {
  if (!parsed.has(panel)) parsed.set(panel, JSON.parse(panel.dataset.several));
  return parsed.get(panel);
}

function shownSvg(panel) {
  return [...panel.querySelectorAll("svg.several")].find((one) => one.getBoundingClientRect().width);
}

// Between the points that were sent gamma is taken linearly, as the server does between those of the sweep.
function gammaAt(curve, hz) {
  const f = curve.f;
  if (!f.length || hz < f[0] || hz > f[f.length - 1]) return null;
  let [low, high] = [0, f.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (f[middle] <= hz) low = middle;
    else high = middle;
  }
  const t = high > low && f[high] > f[low] ? (hz - f[low]) / (f[high] - f[low]) : 0;
  if (curve.gaps?.some(([a, b]) => hz > a && hz < b)) return null;
  return [curve.re[low] + t * (curve.re[high] - curve.re[low]), curve.im[low] + t * (curve.im[high] - curve.im[low])];
}

function fill(row, curve, gamma) {
  const put = (name, words) => (row.querySelector(`[data-read="${name}"]`).textContent = words);
  const none = { swr: "–", rl: "–", r: "–", x: "–" };
  for (const [name, words] of Object.entries(gamma ? reflection(gamma, curve.z0, curve.scalar) : none)) put(name, words);
}

function placeDot(svg, dot, gamma) {
  const d = svg.dataset;
  const size = Math.hypot(...gamma);
  if (d.kind === "smith") {
    dot.setAttribute("cx", (+d.middle + gamma[0] * d.radius).toFixed(1));
    dot.setAttribute("cy", (+d.middle - gamma[1] * d.radius).toFixed(1));
    return;
  }
  const loss = Math.min(Math.max(returnLoss(size) / d.loss, 0), 1);
  const share = d.kind === "loss" ? 1 - loss : Math.min(size / d.topGamma, 1);
  dot.setAttribute("cy", (+d.bottom - share * (d.bottom - d.top)).toFixed(1));
}

function show(panel, hz) {
  const svg = shownSvg(panel);
  if (!svg) return;
  const d = svg.dataset;
  hz = Math.min(Math.max(hz, +d.low), +d.high);
  panel.dataset.reads = hz;
  const box = panel.closest(".figure-box");
  box.querySelector("[data-at]").textContent = frequency(hz);
  const cursor = svg.querySelector(".cursor");
  cursor.setAttribute("visibility", "visible");
  if (d.kind !== "smith") {
    const x = +d.left + ((hz - d.low) / (d.high - d.low)) * (d.right - d.left);
    cursor.setAttribute("transform", `translate(${x.toFixed(1)} 0)`);
  }
  for (const curve of curvesOf(panel)) {
    const gamma = gammaAt(curve, hz);
    const row = box.querySelector(`[data-curve="${CSS.escape(curve.label)}"]`);
    if (row) fill(row, curve, gamma);
    const dot = cursor.querySelector(`[data-of="${CSS.escape(curve.label)}"]`);
    if (!dot) continue;
    dot.setAttribute("visibility", gamma ? "visible" : "hidden");
    if (gamma) placeDot(svg, dot, gamma);
  }
}

function frequencyAt(panel, clientX, clientY) {
  const svg = shownSvg(panel);
  const d = svg.dataset;
  const box = svg.getBoundingClientRect();
  const scale = svg.viewBox.baseVal.width / box.width;
  if (d.kind !== "smith") {
    return +d.low + (((clientX - box.left) * scale - d.left) / (d.right - d.left)) * (d.high - d.low);
  }
  // On the chart the nearest point of any curve tells the frequency.
  const re = ((clientX - box.left) * scale - d.middle) / d.radius;
  const im = (d.middle - (clientY - box.top) * scale) / d.radius;
  let [nearest, at] = [Infinity, +d.low];
  for (const curve of curvesOf(panel)) {
    for (let i = 0; i < curve.f.length; i++) {
      const far = (curve.re[i] - re) ** 2 + (curve.im[i] - im) ** 2;
      if (far < nearest) [nearest, at] = [far, curve.f[i]];
    }
  }
  return at;
}

// -- A range dragged over is looked at closer, with all points that it has. --------------------------------------

let drag = null;

function zoom(panel, low, high) {
  const form = document.getElementById("compare");
  const given = new URLSearchParams(new FormData(form));
  given.delete("view");
  if (high > low) {
    given.set("low", low.toFixed(0));
    given.set("high", high.toFixed(0));
  }
  const address = `${panel.dataset.zoom}?${given}`;
  window.htmx.ajax("GET", address, { target: "#compare-work", swap: "outerHTML" }).then(() => {
    history.pushState(null, "", address);
  });
}

document.addEventListener("pointerdown", (event) => {
  const panel = event.target.closest?.("[data-several]");
  if (!panel) return;
  show(panel, frequencyAt(panel, event.clientX, event.clientY));
  if (event.pointerType === "mouse" && shownSvg(panel).dataset.kind !== "smith") drag = { panel, from: event.clientX };
});
document.addEventListener("pointermove", (event) => {
  const panel = drag?.panel ?? event.target.closest?.("[data-several]");
  if (panel) show(panel, frequencyAt(panel, event.clientX, event.clientY));
});
document.addEventListener("pointerup", (event) => {
  if (drag && Math.abs(event.clientX - drag.from) > 24) {
    const ends = [drag.from, event.clientX].map((x) => frequencyAt(drag.panel, x, 0)).sort((a, b) => a - b);
    zoom(drag.panel, ...ends);
  }
  drag = null;
});
document.addEventListener("keydown", (event) => {
  const panel = event.target.closest?.("[data-several]");
  if (!panel || event.ctrlKey || event.metaKey || event.altKey) return;
  const d = shownSvg(panel).dataset;
  const [low, high] = [+d.low, +d.high];
  const at = +(panel.dataset.reads ?? (low + high) / 2);
  const steps = { ArrowLeft: -1, ArrowRight: 1, PageDown: -10, PageUp: 10 };
  if (event.key in steps) show(panel, at + (steps[event.key] * (high - low)) / 400);
  else if (event.key === "Home") show(panel, low);
  else if (event.key === "End") show(panel, high);
  else if (event.key === "+") zoom(panel, at - (high - low) / 6, at + (high - low) / 6);
  else if (event.key === "-") zoom(panel, at - (high - low), at + (high - low));
  else return;
  event.preventDefault();
});

// A figure is never without its numbers: it starts where the first curve is lowest.
function start() {
  const panel = document.querySelector("[data-several]");
  if (!panel || !shownSvg(panel)) return;
  const [first] = curvesOf(panel);
  if (!first?.f.length) return;
  let at = 0;
  for (let i = 1; i < first.f.length; i++) {
    if (Math.hypot(first.re[i], first.im[i]) < Math.hypot(first.re[at], first.im[at])) at = i;
  }
  show(panel, first.f[at]);
}
document.addEventListener("htmx:afterSettle", start);
start();
