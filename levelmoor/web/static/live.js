// The live view: events from the server drawn as they come; hold, mark and keep.

import { guided } from "./null-search.js";
import { steady, told as heard, troubled } from "./out-of-sight.js";
import { follow as strip } from "./time-strip.js";

const box = document.getElementById("live");
const status = document.getElementById("status");
const bar = document.getElementById("progress");
const said = document.getElementById("said-live");
const form = document.getElementById("live-span");
const headers = () => JSON.parse(document.body.getAttribute("hx-headers"));
let held = false;
let latest = null; // the sweep that came last
let shown = null; // the sweep on the screen, which is the one that is kept
let insisted = 0; // the sweep that is to be kept though a hand seemed to be at the element
let ghosts = []; // skylines of marked sweeps

function say(words, wrong = false) {
  said.textContent = words;
  said.className = wrong ? "said wrong" : words ? "said" : "";
}

function draw(sweep) {
  shown = sweep;
  for (const numbers of box.querySelectorAll("[data-of]")) numbers.hidden = (numbers.dataset.of === "ports") !== Boolean(sweep.ports);
  box.querySelector("[data-do=ports]")?.setAttribute("aria-pressed", String(Boolean(sweep.ports)));
  for (const one of box.querySelectorAll("[data-n]")) one.textContent = sweep[one.dataset.n] ?? "";
  for (const size of ["wide", "narrow"]) {
    const place = box.querySelector(`.live-figure .only-${size}`);
    place.innerHTML = sweep[size];
    const line = place.querySelector(".skyline");
    for (const ghost of ghosts) {
      if (ghost.span !== spanOf(place) || !line) continue;
      const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
      path.setAttribute("class", "skyline unsure ghost");
      path.setAttribute("d", ghost[size]);
      line.after(path);
    }
  }
}

function spanOf(place) {
  const data = place.querySelector("svg")?.dataset ?? {};
  return `${data.low}-${data.high} ${data.scale ?? ""}`;
}

function mark() {
  const [wide, narrow] = ["wide", "narrow"].map((size) => box.querySelector(`.live-figure .only-${size}`));
  const lines = [wide, narrow].map((place) => place.querySelector(".skyline")?.getAttribute("d"));
  if (!lines[0]) return;
  ghosts = [...ghosts.slice(-4), { span: spanOf(wide), wide: lines[0], narrow: lines[1] }];
  const what = shown.ports ? `least ${shown.least} ${shown.least_at}` : `best ${shown.best} at ${shown.where}`;
  say(`Marked: ${what}, ${shown.at} UTC. It stays behind the next sweeps, dashed.`);
  draw(shown);
}

function hold(button) {
  held = !held;
  button.setAttribute("aria-pressed", String(held));
  say(held ? `Held at ${shown?.at ?? ""} UTC; sweeping continues.` : "");
  if (!held && latest) draw(latest);
}

async function post(address, fields = {}) {
  try {
    const answer = await fetch(address, { method: "POST", headers: headers(), body: new URLSearchParams(fields), redirect: "error" });
    const told = await answer.json();
    say(told.said ?? told.problem, !answer.ok);
    return answer.ok ? told : null;
  } catch {
    say("The server does not answer; nothing was changed. Try again.", true);
    return null;
  }
}

async function keep() {
  if (!shown) return;
  if (shown.ports) return keepThrough();
  if (!steady() && insisted !== shown.number) {
    insisted = shown.number;
    say("A hand seems to be at the antenna: wait until it is steady, or press again to keep the sweep anyway.", true);
    return;
  }
  const fields = { number: shown.number, run: box.dataset.run, join_to: box.dataset.join };
  const told = await post(box.dataset.keep, fields);
  if (!told?.sweep) return;
  htmx.trigger(document.body, "kept"); // what was kept tells the next move
  const link = document.createElement("a");
  link.href = `${box.dataset.sweep}?sweep=${told.sweep}`;
  link.textContent = "See what it shows";
  said.append(" ", link);
  if (box.dataset.next) {
    const next = document.createElement("a");
    const first = box.dataset.join || told.sweep;
    next.href = box.dataset.more === "pass" ? `${box.dataset.next}&join_to=${first}` : box.dataset.next;
    next.textContent = box.dataset.more === "pass" ? "Sweep the next pass" : "Start the next run";
    said.append(" · ", next);
  }
}

async function keepThrough() {
  say("Sweeping from port to port.");
  const told = await post(box.dataset.through, { fixture: form.elements.fixture.value });
  if (!told) return;
  follow(); // the empty fixture, once it is kept, is taken off
  const link = document.createElement("a");
  link.href = box.dataset.accessories;
  link.textContent = "See what it shows";
  said.append(" ", link);
}

const SILENT_MS = 15_000; // three times what the server lets pass without a word
let source = null; // none once the server has refused it, and said why
let waiting;
function follow() {
  source?.close();
  const asked = new URLSearchParams(new FormData(form));
  source = new EventSource(`${box.dataset.stream}?${asked}`);
  hear("here", () => {});
  hear("status", (told) => {
    const words = { connecting: told.words, ready: `Connected to ${told.words}`, sweeping: `Sweeping: ${told.words}` };
    status.textContent = (words[told.state] ?? told.words).replaceAll(/,(?=\S)/g, ", ");
    status.className = `live-status ${["trouble", "refused"].includes(told.state) ? "wrong" : ""}`;
    if (["trouble", "refused"].includes(told.state)) troubled();
    if (told.state === "refused") leave();
  });
  hear("progress", ({ share }) => (bar.value = share));
  hear("said", ({ words }) => {
    if (!said.textContent.startsWith(words)) say(words); // whoever asked has been told, and more
  });
  hear("sweep", (sweep) => {
    latest = sweep;
    if (document.getElementById("out-of-sight") && !latest.ports) {
      heard(latest);
      strip(latest, steady());
      guided(latest);
    }
    if (!held) draw(latest);
  });
  source.addEventListener("error", unheard);
  listen();
  if (!navigator.onLine) unheard();
}
function hear(kind, act) {
  source.addEventListener(kind, (event) => {
    listen();
    act(JSON.parse(event.data));
  });
}
// A signal can go without the browser noticing, and a stream that was turned away is never asked for again by itself.
function listen() {
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    follow();
    unheard();
  }, SILENT_MS);
}
function leave() {
  clearTimeout(waiting);
  source?.close();
  source = null;
}
function unheard() {
  if (!source) return;
  status.textContent = navigator.onLine
    ? "No connection to the server; trying again. What you saved is safe."
    : "No signal. Live sweeping needs the server; the run sheet, readings and trials work without it.";
  status.className = "live-status wrong";
}
addEventListener("online", () => box && follow());
addEventListener("offline", () => box && unheard());

async function sweepThis() {
  const { low, high, points } = Object.fromEntries(new FormData(form));
  ghosts = [];
  await post(box.dataset.span, { low, high, points });
}

if (box) {
  follow();
  // A run of the plan sets its own span, once the stream has made the run.
  if (box.dataset.plan) setTimeout(sweepThis, 400);
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    sweepThis();
  });
  for (const name of ["wanted", "steady", "fixture"]) form.elements[name]?.addEventListener("change", follow);
  box.addEventListener("click", (event) => {
    const act = event.target.closest("[data-do]");
    if (!act) return;
    if (act.dataset.do === "keep") keep();
    if (act.dataset.do === "through") keepThrough();
    if (act.dataset.do === "ports") post(box.dataset.ports, { on: act.getAttribute("aria-pressed") === "true" ? "no" : "yes" });
    if (act.dataset.do === "hold") hold(act);
    if (act.dataset.do === "mark") mark();
    if (act.dataset.do === "calibrate") post(box.dataset.calibrate.replace("STEP", act.dataset.step));
  });
  document.getElementById("correction")?.addEventListener("change", (event) => {
    post(box.dataset.correction, { on: event.target.checked ? "yes" : "no" });
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    if (event.detail.elt.closest?.("[data-reload]") && event.detail.successful) location.reload();
  });
  addEventListener("pagehide", leave);
  addEventListener("pageshow", (event) => event.persisted && follow());
}
