// The outbox: whatever is done is kept on this device until the server has acknowledged it, is sent in order and is done
// once. What the server refuses stays here with its reason, to be sent all the same or dropped.

import { openDB } from "./idb.js";

export const ident = () => crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2, 14)}`;
const user = Number(document.body.dataset.user ?? 0);
const team = document.body.dataset.team ?? "";
const tab = ident();

// -- What is kept -------------------------------------------------------------------------------------------------------

// An act: who did it, where it goes and what it carries; `state` is going, waiting or refused. A browser that keeps
// nothing has it as long as the page is open. Nothing waits for the shelf: what is done before it is open is put there then.
const shelf = openDB("levelmoor-outbox", 1, {
  upgrade: (made) => made.createObjectStore("acts", { keyPath: "n" }),
}).catch(() => null);
let acts = [];
const others = "BroadcastChannel" in window ? new BroadcastChannel("levelmoor-outbox") : null;
const mine = () => acts.filter((act) => act.user === user);
const waits = (act) => act.user === user && act.state === "waiting";

let last = 0;
function keep(act) {
  act.n ??= last = Math.max(Date.now() * 1000 + Math.floor(Math.random() * 1000), last + 1); // another tab's is another
  if (!acts.includes(act)) acts.push(act);
  tell(act.n, act, (open) => open.put("acts", act));
}
function drop(act, done = true) {
  acts = acts.filter((one) => one.n !== act.n);
  if (done) window.levelmoorDelivered?.(act.carried ?? []); // what was refused stays as it was typed
  tell(act.n, null, (open) => open.delete("acts", act.n));
}
const untold = new Map(); // n -> the act, or null where it is gone: what the shelf was not told yet
function tell(n, act, change) {
  const told = { act };
  untold.set(n, told);
  shelf.then((open) => open && change(open)).then(() => {
    if (untold.get(n) === told) untold.delete(n);
    others?.postMessage("");
  });
  show();
}
// What is done while the shelf is read is not in what was read. An act is one object as long as the page is open, since
// whoever sends it holds on to it.
async function lookAgain() {
  const open = await shelf;
  if (!open) return;
  const kept = new Map((await open.getAll("acts")).map((act) => [act.n, act]));
  for (const [n, { act }] of untold) {
    if (act) kept.set(n, act);
    else kept.delete(n);
  }
  const here = new Map(acts.map((act) => [act.n, act]));
  acts = [...kept.values()].sort((one, other) => one.n - other.n).map((act) => Object.assign(here.get(act.n) ?? act, act));
  show();
}
others?.addEventListener("message", ({ data }) => (data ? answers.get(data.path)?.(data.said) : lookAgain()));

// What a page that is gone had on its way waits again: each open page holds a lock of its own.
navigator.locks?.request(`levelmoor-tab-${tab}`, () => new Promise(() => {}));
async function takeOver() {
  const open = navigator.locks ? (await navigator.locks.query()).held.map((lock) => lock.name) : [];
  for (const act of acts) {
    if (act.state !== "going" || act.tab === tab || open.includes(`levelmoor-tab-${act.tab}`)) continue;
    act.state = "waiting";
    keep(act);
  }
}

// -- What a page does ---------------------------------------------------------------------------------------------------

const NOT_SENT = ["csrf_token", "have"]; // a token has its time, and what the page shows is another by then
document.addEventListener("htmx:configRequest", (event) => {
  const { verb, elt, path, formData, headers } = event.detail;
  if (verb === "get" || !user || elt.closest("[data-not-kept]")) return;
  const act = {
    ...{ id: ident(), user, team, tab, path, page: location.pathname, made: Date.now(), state: "going" },
    fields: [...formData].filter(([name]) => !NOT_SENT.includes(name)),
    carried: window.levelmoorCarried(elt, formData),
    label: labelOf(elt, formData),
  };
  if (pressedTwice(act)) return event.preventDefault();
  headers["Levelmoor-Act"] = act.id;
  headers["Levelmoor-Team"] = team;
  if (navigator.onLine && !acts.some(waits)) return keep(act);
  event.preventDefault();
  act.state = "waiting";
  keep(act);
  window.levelmoorParked?.();
  parked(elt, act);
  flush();
});
// What was typed into a form and is on its way is not sent again by a second press, even where the form was redrawn in between.
const sentAs = (act) => JSON.stringify(act.fields.filter(([name]) => name !== "entry"));
function pressedTwice(act) {
  const last = acts.findLast((one) => one.path === act.path && one.tab === tab);
  if (last?.state !== "going" || !last.fields || act.fields.some(([, value]) => value instanceof File)) return false;
  return act.carried.some(([, value]) => value) && sentAs(last) === sentAs(act);
}
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr, requestConfig } = event.detail;
  const act = acts.find((one) => one.id === requestConfig.headers["Levelmoor-Act"]);
  if (!act) return;
  const way = wayOf(xhr.status, (name) => xhr.getResponseHeader(name));
  if (way !== "later" && way !== "signedout") {
    drop(act, way === "done"); // the page itself shows what was answered
    if (way === "done" && !window.levelmoorLanded(xhr)) window.levelmoorEmptied(act.carried);
    return;
  }
  act.state = "waiting";
  keep(act);
  parked(requestConfig.elt, act, Boolean(xhr.status));
  if (way === "later") soon(xhr.getResponseHeader("Levelmoor-Busy") ? BUSY_MS : FIRST_MS);
  else signIn();
});

// As long as something waits, the head says what becomes of it: what is only asked for meanwhile and fails says nothing else.
document.addEventListener("htmx:beforeSwap", (event) => {
  const { xhr, requestConfig } = event.detail;
  const later = wayOf(xhr.status, (name) => xhr.getResponseHeader(name)) === "later";
  if (requestConfig.verb === "get" && later && acts.some(waits)) event.detail.shouldSwap = false;
});

function wayOf(status, header) {
  if (status === 401 || header("Levelmoor-Stale")) return "signedout";
  if (!status || status === 502 || status === 504 || (status === 503 && header("Retry-After"))) return "later";
  return status >= 400 ? "refused" : "done";
}
function labelOf(elt, formData) {
  const bare = (words) => words?.replaceAll(/\s+/g, " ").trim() ?? "";
  const files = [...formData].flatMap(([, value]) => (value instanceof File && value.name ? [value.name] : []));
  if (files.length) return files.join(", ").slice(0, 90);
  const submitter = elt.matches?.("form") ? elt.querySelector("button:not([type=button])") : null;
  const cell = window.levelmoorCell?.() ?? elt;
  const name = bare(cell.getAttribute?.("aria-label") || cell.labels?.[0]?.textContent || submitter?.textContent);
  const typed = [...formData].filter(([key, value]) => value && !(value instanceof File) && !/^(csrf_token|have|seen|entry|shown_)/.test(key));
  const all = typed.map(([, value]) => bare(value));
  const what = all.reduce((one, other) => (other.length > one.length ? other : one), "");
  return [name || bare(elt.textContent), what].filter(Boolean).join(": ").slice(0, 90);
}
// What goes out next is filed under what the screen shows, though the server has not heard of it yet.
function showOnBench(act) {
  const name = act.path.match(/\/cell\/hand\/\d+\/(\w+)$/)?.[1];
  const shown = name && document.querySelector(`#shown [name="shown_${name}"]`);
  if (shown) shown.value = act.fields.find(([field]) => field === "value")?.[1] ?? shown.value;
}
// A form that waits is free for the next, a button is not pressed twice; a cell says that it waits.
function parked(elt, act, answered = false) {
  if (elt.matches?.("form")) {
    elt.reset();
    window.levelmoorDelivered?.(act.carried);
    window.levelmoorEmptied(act.carried); // where the form was redrawn meanwhile
  } else if (elt.matches?.("button")) elt.disabled = true;
  if (!answered) say(navigator.onLine ? "The server does not answer. What you did is kept on this device and is sent by itself." : "No signal. What you did is kept on this device and is sent by itself.");
}
let lastSaid = "";
function say(words) {
  const said = document.getElementById("said");
  if (!said) return;
  said.className = "said";
  said.textContent = lastSaid = words;
}
function saidNoMore() {
  const said = document.getElementById("said");
  if (lastSaid && said?.textContent === lastSaid) said.replaceChildren();
  lastSaid = "";
}

// -- Entries of the field -----------------------------------------------------------------------------------------------

const answers = new Map(); // where entries go -> what is done with the answer that kept them
const unheard = new Map(); // where entries went -> the answer that nothing on the page waited for yet
const MOST = 100; // entries in one go
export function entries(path, name, answer) {
  answers.set(path, answer);
  queueMicrotask(() => unheard.has(path) && answer(unheard.get(path)));
  return {
    put: (entry, label) => {
      keep({ id: ident(), user, team, tab, path, page: location.pathname, made: Date.now(), state: "waiting", name, entry, label });
      return flush();
    },
    waiting: () => mine().filter((act) => act.path === path && act.entry && act.state !== "refused").map((act) => act.entry),
    refused: () => mine().filter((act) => act.path === path && act.entry && act.state === "refused"),
    drop: (id) => mine().filter((act) => act.entry?.id === id).forEach(drop),
  };
}

// -- Sending ------------------------------------------------------------------------------------------------------------

const [BUSY_MS, FIRST_MS, LONGEST_MS] = [1000, 2000, 20_000];
let pause = FIRST_MS;
let timer = 0;
let flushing = null;
function soon(ms = pause) {
  clearTimeout(timer);
  timer = setTimeout(flush, ms * (0.75 + Math.random() / 2));
  pause = Math.min(pause * 1.5, LONGEST_MS);
}
let askedFor = 0; // up to which act somebody was asked to sign in
function signIn() {
  const newest = Math.max(0, ...acts.filter(waits).map((act) => act.n));
  if (newest <= askedFor) return;
  askedFor = newest;
  document.dispatchEvent(new CustomEvent("signedout", { detail: flush }));
}
export function flush() {
  flushing ??= alone(sendAll).finally(() => (flushing = null));
  return flushing;
}
// One page of the browser sends, so that what was done first is there first.
const alone = (work) => (navigator.locks ? navigator.locks.request("levelmoor-outbox", work) : work());

async function sendAll() {
  clearTimeout(timer);
  await lookAgain();
  await takeOver();
  if (!acts.some(waits)) return;
  const pass = await passNow();
  let sent = false;
  while (pass && acts.some(waits)) {
    const next = acts.find(waits);
    const batch = next.entry ? acts.filter((act) => waits(act) && act.path === next.path && act.entry).slice(0, MOST) : [next];
    const way = await send(batch, pass);
    if (way === "later" || way === "signedout") {
      if (way === "signedout") signIn();
      else soon();
      break;
    }
    // What was done already while another page was open, this one shows as it is.
    sent ||= !next.entry && (way === "done" || (way === "known" && next.page === location.pathname));
    pause = FIRST_MS;
  }
  if (!pass) soon();
  if (!acts.some(waits)) saidNoMore();
  if (sent) document.dispatchEvent(new Event("redraw"));
}

async function passNow() {
  try {
    const answer = await fetch("/outbox", { headers: { "HX-Request": "true" }, redirect: "error" });
    if (answer.status === 401) signIn();
    if (!answer.ok) return null;
    const pass = await answer.json();
    document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRFToken": pass.csrf }));
    for (const field of document.querySelectorAll("[name=csrf_token]")) field.value = pass.csrf;
    return pass.user === user ? pass : null; // somebody else's device by now: it waits for who did it
  } catch {
    return null;
  }
}

async function send(batch, pass) {
  const [act] = batch;
  const headers = { "HX-Request": "true", "X-CSRFToken": pass.csrf, "Levelmoor-Team": act.team };
  let body = JSON.stringify({ [act.name]: batch.map((one) => one.entry) });
  if (act.entry) headers["Content-Type"] = "application/json";
  else {
    headers["Levelmoor-Act"] = act.id;
    body = act.fields.some(([, value]) => value instanceof Blob) ? new FormData() : new URLSearchParams();
    for (const [name, value] of act.fields) body.append(name, value);
  }
  let answer;
  try {
    answer = await fetch(act.path, { method: "POST", headers, body, redirect: "manual" });
  } catch {
    return "later";
  }
  const way = answer.type === "opaqueredirect" ? "done" : wayOf(answer.status, (name) => answer.headers.get(name));
  if (way === "refused" && batch.length > 1) return send([act], pass); // the others are heard by themselves
  if (way === "refused") {
    const said = await answer.text();
    refuse(act, reasonIn(said, ANY_PROBLEM) || "The server gave no reason.", answer.status !== 422 || said.includes('class="conflict'));
  }
  if (way !== "done") return way;
  if (act.entry) settle(batch, await answer.json());
  else {
    tellOf(answer);
    acknowledge(act, reasonIn(await answer.text(), "#problems [role=alert]"));
  }
  return answer.headers.get("Levelmoor-Known") ? "known" : way;
}
// What the act did is said as when it is sent at once; the page is drawn again after the last one.
function tellOf(answer) {
  const { redraw: _, ...told } = JSON.parse(answer.headers.get("HX-Trigger") ?? "{}");
  for (const [name, value] of Object.entries(told)) {
    document.dispatchEvent(new CustomEvent(name, { detail: value?.words ? value : { value } }));
  }
}
// When entries were kept last: a page that was drawn just before does not show them.
export const sentAt = (path) => Number(sessionStorage.getItem(`levelmoor-sent-${path}`) ?? 0);
function settle(batch, said) {
  sessionStorage.setItem(`levelmoor-sent-${batch[0].path}`, Date.now());
  const kept = new Set(said.kept ?? []);
  for (const act of batch) {
    const why = said.refused?.[act.entry.id];
    if (why) refuse(act, why, true);
    else if (kept.has(act.entry.id)) drop(act);
    else refuse(act, "The server did not say that it kept this.", true);
  }
  const { path } = batch[0];
  if (answers.has(path)) answers.get(path)(said);
  else unheard.set(path, said);
  others?.postMessage({ path, said });
}
// Of several files some may be kept and others rejected: those are said, and there is nothing to send again.
function acknowledge(act, rejected) {
  if (!rejected) return drop(act);
  act.fields = null;
  refuse(act, rejected);
}
// What a colleague changed meanwhile, or what failed for another reason, can be sent once more; a slip has to be corrected.
function refuse(act, why, again = false) {
  act.state = "refused";
  [act.why, act.again] = [why, again];
  keep(act);
}
const ANY_PROBLEM = ".conflict, [role=alert], .wrong, .said";
function reasonIn(text, where) {
  if (text.startsWith("{")) return JSON.parse(text).problem ?? "";
  const said = new DOMParser().parseFromString(text, "text/html").querySelector(where);
  for (const one of said?.querySelectorAll("button") ?? []) one.remove();
  return said?.textContent.replaceAll(/\s+/g, " ").trim().slice(0, 400) ?? "";
}

addEventListener("online", flush);
addEventListener("pageshow", flush);
document.addEventListener("visibilitychange", () => document.hidden || flush());
setInterval(() => acts.some(waits) && flush(), LONGEST_MS);

// -- What the head and the cells say ------------------------------------------------------------------------------------

function show() {
  const box = document.getElementById("outbox");
  if (!box) return;
  const [waiting, refused] = ["waiting", "refused"].map((state) => mine().filter((act) => act.state === state));
  const words = [refused.length && `${refused.length} refused`, waiting.length && `${waiting.length} waiting`].filter(Boolean);
  const summary = box.querySelector("summary");
  const now = words.join(", ") || "All kept";
  if (summary.textContent !== now) summary.textContent = now;
  summary.classList.toggle("wrong", refused.length > 0);
  box.querySelector("ul").replaceChildren(...[...refused, ...waiting].map(line));
  box.querySelector("[data-none]").hidden = words.length > 0;
  mark();
  document.dispatchEvent(new Event("outbox"));
}
function line(act) {
  const item = document.createElement("li");
  const place = document.createElement("a");
  place.href = act.page;
  place.textContent = act.label || "Something you did";
  const does = document.createElement("p");
  does.className = "row-of";
  item.append(place, act.state === "refused" ? ` was refused: ${act.why} ` : " is waiting to be sent. ");
  const button = (words, act) => {
    const made = document.createElement("button");
    made.textContent = words;
    made.addEventListener("click", act);
    does.append(made);
  };
  const texts = (act.carried ?? []).filter(([, value]) => typeof value === "string" && value);
  if (act.state === "refused" && act.fields && !act.again && texts.length) {
    button("Correct it", () => {
      drop(act, false);
      window.levelmoorWriteAgain(act.page, texts);
    });
  }
  if (act.state === "refused" && act.again) {
    button("Send anyway", () => {
      act.fields = act.fields?.filter(([name]) => name !== "seen"); // what the others changed is known now
      act.state = "waiting";
      keep(act);
      flush();
    });
  }
  button("Drop", () => {
    drop(act);
    document.dispatchEvent(new Event("redraw"));
  });
  item.append(does);
  return item;
}
// A cell shows what was written in it, also where the page is older, and says that it waits.
function mark() {
  for (const cell of document.querySelectorAll("[data-waiting]")) cell.removeAttribute("data-waiting");
  for (const act of mine()) {
    if (act.state !== "waiting" || act.page !== location.pathname) continue;
    for (const [key, value] of act.carried ?? []) window.levelmoorPutBack?.(key, value);
    showOnBench(act);
  }
}
document.addEventListener("htmx:afterSettle", mark);
show();
lookAgain().then(takeOver).then(flush);
