// The last ten minutes of SWR at up to four wanted frequencies, with marks of what was done, kept as evidence if wanted.

import { gammaOf } from "./tone.js";

const box = document.getElementById("time-strip");
const LONGEST_S = 600;
const TOP_GAMMA = 9 / 11; // SWR 10, as in every figure
const [WIDTH, HEIGHT] = [400, 110];
let begun = Date.now();
let points = [];
let marks = [];
let wanted = "";

const seconds = () => (Date.now() - begun) / 1000;
const say = (words, wrong = false) => {
  const said = box.querySelector("[data-strip-said]");
  said.textContent = words;
  said.className = wrong ? "wrong" : "quiet";
};

function restart() {
  [begun, points, marks] = [Date.now(), [], []];
}

export function follow(sweep, counts) {
  if (!box || !sweep.heard?.length) return;
  const now = sweep.heard.map((one) => one.hz).join();
  if (now !== wanted) restart(); // other frequencies are another strip
  wanted = now;
  points.push({ at_s: seconds(), swr: sweep.heard.map((one) => one.swr), dip_hz: sweep.dip_hz ?? null, counts });
  while (points.length && points.at(-1).at_s - points[0].at_s > LONGEST_S) points.shift();
  marks = marks.filter((one) => one.at_s >= points[0].at_s);
  draw();
}

export function mark(words) {
  const number = words.replace(",", ".").match(/-?\d+(?:\.\d+)?/);
  marks.push({ at_s: seconds(), words: words.slice(0, 80), figure: number ? Number(number[0]) : null });
  draw();
}

function draw() {
  const svg = box.querySelector("svg");
  const [first, last] = [points[0].at_s, Math.max(points.at(-1).at_s, points[0].at_s + 20)];
  const x = (at) => ((at - first) / (last - first)) * WIDTH;
  const y = (swr) => HEIGHT - 4 - (HEIGHT - 8) * Math.min(gammaOf(swr) / TOP_GAMMA, 1);
  const part = (name, attributes) => {
    const one = document.createElementNS("http://www.w3.org/2000/svg", name);
    for (const [key, value] of Object.entries(attributes)) one.setAttribute(key, value);
    return one;
  };
  const lines = points[0].swr.map((_, k) =>
    part("path", { class: `curve k${k}`, d: `M${points.map((p) => `${x(p.at_s).toFixed(1)} ${y(p.swr[k]).toFixed(1)}`).join(" ")}` }),
  );
  const not = points.filter((p) => !p.counts).map((p) => part("line", { class: "bank", x1: x(p.at_s), x2: x(p.at_s), y1: 0, y2: HEIGHT }));
  const flags = marks.map((m) => part("line", { class: "level thin", x1: x(m.at_s), x2: x(m.at_s), y1: 0, y2: HEIGHT }));
  svg.replaceChildren(...lines, ...not, ...flags);
  const since = marks.at(-1);
  const counted = points.filter((p) => p.counts && (!since || p.at_s >= since.at_s)).map((p) => p.swr[0]).filter((s) => s !== null).sort((a, b) => a - b);
  const middle = counted[Math.floor(counted.length / 2)];
  const words = counted.length ? `${middle.toFixed(2)}, from ${counted[0].toFixed(2)} to ${counted.at(-1).toFixed(2)}` : "nothing counted yet";
  box.querySelector("[data-since]").textContent = `${since ? `since "${since.words}"` : "since the start"}: ${words}`;
}

function keep() {
  if (!points.length) return say("Nothing was swept at a target yet.", true);
  const [from, field] = [points[0].at_s, (name) => box.querySelector(`[name="${name}"]`).value];
  const sent = {
    kind: field("kind"),
    note: field("note"),
    instrument_id: box.dataset.instrument,
    begun_at: new Date(begun + from * 1000).toISOString().slice(0, 16),
    wanted_hz: wanted.split(",").map(Number),
    points: points.map((p) => ({ ...p, at_s: Number((p.at_s - from).toFixed(2)) })),
    marks: marks.map((m) => ({ ...m, at_s: Number((m.at_s - from).toFixed(2)) })),
  };
  const form = box.querySelector("form");
  form.elements.strip.value = JSON.stringify(sent);
  form.requestSubmit();
}

// The outbox sends it, now or once there is a signal.
box?.addEventListener("htmx:afterRequest", (event) => {
  const { xhr } = event.detail;
  if (!xhr.getResponseHeader("Content-Type")?.includes("json")) return;
  const told = JSON.parse(xhr.responseText);
  say(told.said ?? told.problem, xhr.status >= 400);
  if (!told.page) return;
  const link = document.createElement("a");
  [link.href, link.textContent] = [told.page, "See it"];
  box.querySelector("[data-strip-said]").append(" ", link);
});

if (box) {
  document.addEventListener("hand-on", () => mark("hand on"));
  box.addEventListener("click", (event) => {
    const act = event.target.closest("[data-mark], [data-keep-strip], [data-begin-strip]");
    if (!act) return;
    if (act.dataset.keepStrip !== undefined) keep();
    else if (act.dataset.beginStrip !== undefined) restart();
    else if (act.dataset.mark) mark(act.dataset.mark);
    else {
      const typed = box.querySelector('[name="mark"]');
      if (typed.value.trim()) mark(typed.value.trim());
      typed.value = "";
    }
  });
}
