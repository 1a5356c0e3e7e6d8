// Readings in the field, typed with a thumb.

import { fieldQueue, ident } from "./field-queue.js";
import { localTime } from "./local-time.js";
import { offerBack } from "./offer-back.js";

const box = document.getElementById("readings");
const entry = document.getElementById("entry");
const doubt = document.getElementById("doubt");
const headers = () => ({ "Content-Type": "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) });

function showWaiting() {
  const list = document.getElementById("waiting");
  const adds = queue.waiting().filter((change) => change.op === "add");
  list.replaceChildren(
    ...adds.map((change) => {
      const line = document.createElement("p");
      line.append(`${Object.values(change.typed).join("  ")}: on this device, waiting to be sent `);
      const again = document.createElement("button");
      again.type = "button";
      again.textContent = "Correct it";
      again.addEventListener("click", () => writeAgain(change));
      line.append(again);
      return line;
    }),
  );
}

const queue = fieldQueue({
  address: box.dataset.changes,
  name: "changes",
  label: (change) => Object.values(change.typed ?? {}).join("  ") || "A change of a reading",
  changed: () => queueMicrotask(showWaiting),
  said({ html, ahead: next }) {
    const old = document.getElementById("lines");
    const open = old.querySelector("details")?.open;
    old.outerHTML = html;
    window.htmx.process(document.getElementById("lines"));
    if (open) document.querySelector("#lines details").open = true;
    ahead = next;
    propose();
  },
});

// What waits can still be put right: it is taken back into the fields.
function writeAgain(change) {
  queue.drop(change.id);
  for (const [name, value] of Object.entries(change.typed)) entry.elements[name].value = value;
  take(fields()[1] ?? fields()[0]);
}

function put(change) {
  queue.put({ id: ident(), made_at: localTime(new Date(), true), ...change });
}

// -- Typing ------------------------------------------------------------------------------------------------------

const fields = () => [...entry.querySelectorAll("[data-field]")];
let current = fields()[1] ?? fields()[0];

function take(field) {
  current = field;
  for (const one of fields()) one.closest("label").classList.toggle("current", one === field);
  field.focus({ preventScroll: true });
  field.select();
}

let fresh = true; // the first key after a field was entered replaces what stands there
function press(key) {
  if (key === "next") {
    const all = fields();
    take(all[(all.indexOf(current) + 1) % all.length]);
    fresh = true;
    return;
  }
  if (key === "back") current.value = current.value.slice(0, -1);
  else if (key === "sign") current.value = current.value.startsWith("-") ? current.value.slice(1) : `-${current.value}`;
  else current.value = fresh ? key : current.value + key;
  fresh = false;
  look();
}

// Where to read next is told ahead, so that it is proposed without a signal too.
let ahead = box.dataset.ahead.split(" ").filter(Boolean);
const SAME_MHZ = 0.0015;
function propose() {
  const frequency = entry.elements.frequency;
  const waiting = queue.waiting().map((change) => Number(change.typed?.frequency));
  const next = ahead.find((place) => !waiting.some((read) => Math.abs(read - place) < SAME_MHZ));
  if (next && (frequency.value === "" || frequency.dataset.proposed === frequency.value)) {
    frequency.value = next;
    frequency.dataset.proposed = next;
  }
}

function typed() {
  return Object.fromEntries(fields().map((field) => [field.name, field.value.trim()]));
}

// What cannot be is asked about while it is typed, where there is a signal; without one it is asked once there is.
let looking = 0;
function look() {
  clearTimeout(looking);
  if (fields().some((field) => !field.value.trim())) {
    doubt.textContent = "";
    return;
  }
  looking = setTimeout(async () => {
    try {
      const answer = await fetch(box.dataset.check, { method: "POST", headers: headers(), body: JSON.stringify(typed()) });
      const { asked } = await answer.json();
      doubt.textContent = asked.map((one) => one.question).join(" ");
    } catch {
      doubt.textContent = "";
    }
  }, 350);
}

entry.addEventListener("click", (event) => {
  const key = event.target.closest("[data-key]");
  if (key) press(key.dataset.key);
  const field = event.target.closest("[data-field]");
  if (field) {
    take(field);
    fresh = true;
  }
});
entry.addEventListener("input", look);
entry.addEventListener("focusin", (event) => {
  if (event.target.matches("[data-field]") && event.target !== current) {
    take(event.target);
    fresh = true;
  }
});
entry.addEventListener("submit", (event) => {
  event.preventDefault();
  const empty = fields().find((field) => !field.value.trim());
  if (empty) {
    take(empty);
    doubt.textContent = `${empty.getAttribute("aria-label")} is still empty.`;
    return;
  }
  clearTimeout(looking);
  put({ op: "add", reading: ident(), typed: typed() });
  doubt.textContent = "";
  for (const field of fields()) if (field.name !== "frequency") field.value = "";
  entry.elements.frequency.value = "";
  entry.elements.frequency.dataset.proposed = "";
  propose();
  take(fields()[1]);
  fresh = true;
});

// -- Answers -----------------------------------------------------------------------------------------------------

box.addEventListener("click", (event) => {
  const act = event.target.closest("[data-do]");
  if (!act) return;
  const line = act.closest("[data-reading]");
  const reading = line.dataset.reading;
  if (act.dataset.do === "remove") {
    put({ op: "remove", reading });
    const words = line.querySelector(".read").innerText.replaceAll(/\s+/g, " ").replace("✕", "").trim();
    offerBack(`The reading ${words} was removed.`, () => put({ op: "restore", reading }));
  }
  if (act.dataset.do === "answer") {
    put({ op: "answer", reading, kind: act.closest("[data-kind]").dataset.kind, answer: "as read" });
  }
  if (act.dataset.do === "change") put({ op: "change", reading, typed: { [act.dataset.change]: act.dataset.meant } });
  if (act.dataset.do === "swap") {
    const [forward, reflected] = [...line.querySelectorAll(".read b")].slice(1).map((one) => one.textContent.trim());
    put({ op: "change", reading, typed: { forward: reflected, reflected: forward } });
  }
});
box.addEventListener("change", (event) => {
  if (!event.target.matches("input[data-change]")) return;
  const reading = event.target.closest("[data-reading]").dataset.reading;
  put({ op: "change", reading, typed: { [event.target.dataset.change]: event.target.value } });
});
document.addEventListener("htmx:configRequest", (event) => {
  const parameters = event.detail.parameters;
  if ("paste_id" in parameters) {
    parameters.paste_id = ident().slice(0, 28);
    parameters.made_at = localTime(new Date(), true);
  }
});
document.addEventListener("htmx:afterRequest", (event) => {
  if (event.detail.elt.closest?.("[data-reload]") && event.detail.successful) location.reload();
});

entry.elements.frequency.dataset.proposed = entry.elements.frequency.value;
take(current);
