// Nothing typed is lost: what is in a field stays there until it has been sent and answered, whatever else arrives.
// It is read before the page is, not with the other scripts: somebody may type as soon as there is a field.

// -- What is done before the page's scripts are there is done once they are -------------------------------------------

const early = [];
function noteEarly(event) {
  if (event.type === "change") return early.push(() => event.target.dispatchEvent(new Event("change", { bubbles: true })));
  if (event.type === "click") {
    const button = event.target.closest?.("button");
    if (!button || (button.form && button.type === "submit")) return; // that one is submitted
    event.stopImmediatePropagation(); // a script that is there already would do it twice
    return early.push(() => button.click());
  }
  const sender = [event.submitter, event.target].find((one) => one?.matches("[hx-post]"));
  if (!sender) return;
  event.preventDefault();
  early.push(() => (sender.requestSubmit ? sender.requestSubmit() : sender.click()));
}
const EARLY = ["change", "click", "submit"];
for (const type of EARLY) document.addEventListener(type, noteEarly, true);
function catchUp() {
  for (const type of EARLY) document.removeEventListener(type, noteEarly, true);
  for (const act of early) act();
}
document.addEventListener("htmx:load", catchUp, { once: true });

// -- Whoever leaves the page while a change is on its way leaves once it is kept; where it is refused, they stay ---------

let busy = 0; // changes on their way
let leave = null;
const LONGEST_WAIT_MS = 8000; // then they leave all the same, as from a page without this
function leaveAfter(event, go) {
  event.preventDefault();
  leave = go;
  setTimeout(() => {
    if (leave !== go) return;
    busy = 0;
    goNow();
  }, LONGEST_WAIT_MS);
}
function goNow() {
  const go = leave;
  leave = null;
  go?.();
}
function done() {
  busy = Math.max(busy - 1, 0);
  if (!busy) goNow();
}
// Where what asked was redrawn meanwhile and no answer came, nobody would hear that it is over.
const over = new WeakSet();
document.addEventListener("htmx:afterRequest", ({ detail }) => over.add(detail.xhr));
document.addEventListener("htmx:beforeRequest", ({ detail }) => {
  detail.xhr.addEventListener("loadend", () => {
    if (!over.has(detail.xhr)) document.body.dispatchEvent(new CustomEvent("htmx:afterRequest", { bubbles: true, detail }));
  });
});
const isChange = (event) => event.detail.requestConfig.verb !== "get";
document.addEventListener("htmx:beforeRequest", (event) => {
  if (isChange(event)) busy += 1;
});
document.addEventListener("htmx:afterRequest", (event) => {
  const { status } = event.detail.xhr;
  if (!status || status >= 400) leave = null;
  if (isChange(event)) done();
});
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href]");
  if (!busy || !link || event.button || event.ctrlKey || event.metaKey || event.shiftKey || link.target) return;
  leaveAfter(event, () => location.assign(link.href));
});
document.addEventListener("submit", (event) => {
  if (!busy || [event.submitter, event.target].some((one) => one?.matches("[hx-post], [hx-get]"))) return;
  leaveAfter(event, () => event.target.requestSubmit(event.submitter));
});

// -- Cells are sent one after the other, so that the last answer shows the last change -------------------------------

let before = Promise.resolve();
let going = null; // the cell whose change is sent in the page's name, since an answer may have replaced the cell itself
document.addEventListener("htmx:confirm", (event) => {
  const { elt, verb, path } = event.detail;
  if (!elt.matches('.cell[hx-swap="none"]')) return;
  event.preventDefault();
  const [key, value, values] = [keyOf(elt), valueOf(elt), htmx.values(elt, verb)];
  const send = () => {
    going = [key, value];
    return htmx.ajax(verb, path, { source: document.body, swap: "none", values: { ...values, seen: seenOf(key) } });
  };
  busy += 1;
  before = before.then(send).catch(() => {}).then(done);
});

// -- What is typed, by the field it stands in -------------------------------------------------------------------------

const typed = new Map(); // a field's key -> what is in it
const answered = new Map(); // a field's key -> up to where the history went when its own change was kept
const seenAt = new Map(); // a field's key -> up to where the history was seen when typing in it began, or was answered
const sent = new WeakMap(); // request -> the keys it carries, each with what was in the field
const homes = new Map(); // a field's key -> what has to stand open on the page for it to be there, where it can be folded
const unsent = new Set(); // keys of fields put back while they were being typed in: no change of theirs was seen yet
let place = null; // the field being typed in, with the selection in it

const fields = () => [...document.querySelectorAll("input, select, textarea")].filter(kept);
const kept = (field) => field.name && !["file", "hidden"].includes(field.type) && field.closest("[hx-post], form");
const ticked = (field) => ["checkbox", "radio"].includes(field.type);
const valueOf = (field) => (ticked(field) ? field.checked : field.value);

// A field's key is where its form or cell goes, and its name; of fields alike, as in the rows of a form, also its turn.
function byKey() {
  const turns = new Map();
  return new Map(
    fields().map((field) => {
      const owner = field.matches("[hx-post]") ? field : (field.form ?? field.closest("[hx-post]"));
      const where = owner.getAttribute("hx-post") ?? owner.getAttribute("action") ?? owner.id;
      const alike = [where, field.name, ticked(field) ? field.value : ""].join("\n");
      turns.set(alike, (turns.get(alike) ?? -1) + 1);
      return [`${alike}\n${turns.get(alike)}`, field];
    }),
  );
}
const seenNow = (field) => Number((field?.closest("[data-seen]") ?? document.querySelector("[data-seen]"))?.dataset.seen ?? 0);
const seenOf = (key) => Math.max(seenAt.get(key) ?? seenNow(byKey().get(key)), answered.get(key) ?? 0);
const keyOf = (field) => [...byKey()].find(([, one]) => one === field)?.[0];

function note(event) {
  const field = event.target;
  if (!field.matches?.("input, select, textarea") || !kept(field)) return;
  const key = keyOf(field);
  if (!typed.has(key) && !seenAt.has(key)) seenAt.set(key, seenNow(field));
  homes.set(key, field.closest("[data-opens]")?.dataset.opens ?? "");
  typed.delete(key); // of radio buttons the last one set is put back last
  typed.set(key, valueOf(field));
  if (event.type === "change") {
    unsent.delete(key);
    delete field.dataset.half;
  }
}
document.addEventListener("input", note, true);
document.addEventListener("change", note, true);

// -- What a request carries counts as sent once it is answered --------------------------------------------------------

document.addEventListener("htmx:beforeRequest", (event) => {
  const { elt, xhr, requestConfig } = event.detail;
  sent.set(xhr, carriedBy(elt, requestConfig.formData));
  going = null;
});
function carriedBy(elt, formData) {
  const form = elt.form ?? elt.closest("form");
  const carries = (field) => (field === elt || elt.contains(field) || (form && field.form === form)) && formData.has(field.name);
  return going ? [going] : [...byKey()].filter(([, f]) => carries(f)).map(([key, f]) => [key, valueOf(f)]);
}

// -- What the outbox asks: what an act carries, which cell it is of; and what it tells -----------------------------------

window.levelmoorCarried = carriedBy;
window.levelmoorParked = () => (going = null);
window.levelmoorCell = () => going && byKey().get(going[0]);
window.levelmoorDelivered = (carried) => {
  for (const [key, value] of carried) if (typed.get(key) === value) typed.delete(key);
  setTimeout(keepTyped);
};
// The answer reached nothing on the page: what it was to is not left standing as though it were unsent.
window.levelmoorEmptied = (carried) => {
  for (const [key, value] of carried) {
    const field = byKey().get(key);
    if (field?.matches("form :is(input, textarea):not(.cell)") && !ticked(field) && valueOf(field) === value) field.value = field.defaultValue;
  }
};
window.levelmoorPutBack = (key, value) => {
  const field = byKey().get(key);
  if (!field?.matches(".cell")) return;
  field.dataset.waiting = "";
  if (field === document.activeElement || valueOf(field) === value) return;
  if (!typed.has(key)) typed.set(key, value);
  field[ticked(field) ? "checked" : "value"] = typed.get(key);
};

// What was refused on arrival is written into its fields again, on the page it was made on.
window.levelmoorWriteAgain = (page, carried) => {
  const place = shelf(page);
  const half = JSON.parse(localStorage.getItem(place) ?? "[]");
  for (const [key, value] of carried) {
    if (page === location.pathname) typed.set(key, value);
    half.push([key, value, null, ""]);
  }
  localStorage.setItem(place, JSON.stringify(half));
  if (page === location.pathname) location.reload();
  else location.href = page;
};

// -- A form sent once more before it is answered goes again after the answer, with what stood in it then ---------------

const onItsWay = new WeakMap(); // form -> what it was sent with
const waiting = []; // where a form goes, and what stood in it, in the order in which they were sent
const inForm = (form) => [...byKey()].filter(([, field]) => field.form === form);
const stands = (form) => inForm(form).map(([key, field]) => [key, valueOf(field)]);
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);
const put = (form, values) => {
  const kept = new Map(values);
  for (const [key, field] of inForm(form)) if (kept.has(key)) field[ticked(field) ? "checked" : "value"] = kept.get(key);
};
document.addEventListener("htmx:confirm", (event) => {
  const { elt, triggeringEvent } = event.detail;
  if (!onItsWay.has(elt) || triggeringEvent?.type !== "submit" || triggeringEvent.submitter?.name) return;
  event.preventDefault();
  const [path, values] = [elt.getAttribute("hx-post"), stands(elt)];
  const last = waiting.findLast((one) => one.path === path)?.values ?? onItsWay.get(elt);
  if (!same(values, last)) waiting.push({ path, values }); // else it is pressed twice
});
document.addEventListener("htmx:beforeRequest", ({ detail: { elt, requestConfig } }) => {
  if (elt.matches("form[hx-post]") && requestConfig.triggeringEvent?.type === "submit") onItsWay.set(elt, stands(elt));
});
document.addEventListener("htmx:afterRequest", ({ detail: { requestConfig } }) => {
  const path = requestConfig.elt.getAttribute("hx-post");
  const at = waiting.findIndex((one) => one.path === path);
  if (!onItsWay.delete(requestConfig.elt) || at < 0) return;
  const [{ values }] = waiting.splice(at, 1);
  setTimeout(() => {
    // once the answer is done with
    const form = [...document.forms].find((one) => one.getAttribute("hx-post") === path);
    if (!form) return;
    const now = stands(form);
    put(form, values);
    form.requestSubmit();
    if (!same(now, values)) put(form, now); // what is typed meanwhile stays
  });
});

// A cell whose change was kept shows what the server has; one that was refused still stands on what it was typed over.
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr } = event.detail;
  const seen = Number(xhr.getResponseHeader?.("Levelmoor-Seen") ?? 0);
  if (!seen || xhr.status >= 400) return;
  const here = byKey();
  for (const [key, value] of sent.get(xhr) ?? []) {
    answered.set(key, seen);
    if (!landed.has(xhr) && typed.get(key) === value) typed.delete(key);
    seenAt.delete(key);
    // What Escape goes back to, where the answer brings no cell of its own.
    if (here.get(key)?.matches("input.cell[hx-swap=none], textarea.cell[hx-swap=none]")) here.get(key).defaultValue = value;
  }
});
// An answer lands where its target is still on the page: only then is it told to the page before it is put there.
const landed = new WeakSet();
document.addEventListener("htmx:beforeSwap", (event) => landed.add(event.detail.xhr));
window.levelmoorKey = keyOf;
window.levelmoorField = (key) => byKey().get(key);
window.levelmoorLanded = (xhr) => landed.has(xhr);
window.levelmoorBusy = () => busy > 0;
window.levelmoorSeen = (field, seen) => seenAt.set(keyOf(field), seen);
window.levelmoorForget = (field) => {
  typed.delete(keyOf(field));
  setTimeout(keepTyped);
};

document.addEventListener("htmx:beforeSwap", (event) => {
  if (!typed.size) return;
  const here = byKey();
  const carried = event.detail.isError ? [] : (sent.get(event.detail.xhr) ?? []);
  for (const key of typed.keys()) if (here.has(key)) typed.set(key, valueOf(here.get(key)));
  for (const [key, value] of carried) {
    const shown = here.get(key);
    if (typed.get(key) === value && (!shown || event.detail.target.contains(shown))) typed.delete(key);
  }
  const field = document.activeElement;
  place = null;
  for (const [key, one] of here) if (one === field && typed.has(key)) place = [key, field.selectionStart, field.selectionEnd];
});

// -- What is half written is there again after Back, a reload, another look, another sign-in -----------------------------

const HALF = "levelmoor-typed-";
const shelf = (page = location.pathname) => `${HALF}${document.body.dataset.user ?? ""}-${page}`;
const survives = (field) =>
  (!field.matches("select") || (!field.matches(".cell") && field.form?.querySelector("textarea"))) &&
  !ticked(field) && !["password", "email", "search", "date", "datetime-local"].includes(field.type);
function forgetAll() {
  for (const key of Object.keys(localStorage)) if (key.startsWith(HALF)) localStorage.removeItem(key);
}
function keepTyped() {
  const here = byKey();
  const stays = (key) => (here.has(key) ? survives(here.get(key)) : homes.get(key));
  const kept = [...typed].filter(([key, value]) => value && stays(key));
  const half = JSON.stringify(kept.map(([key, value]) => [key, value, seenAt.get(key) ?? null, homes.get(key) ?? ""]));
  if (kept.length) localStorage.setItem(shelf(), half);
  else localStorage.removeItem(shelf());
}
addEventListener("pagehide", keepTyped);
document.addEventListener("input", () => setTimeout(keepTyped));
document.addEventListener("htmx:afterSettle", () => setTimeout(keepTyped));
document.addEventListener("submit", (event) => {
  if (event.target.matches("[hx-post]")) return;
  for (const [key, field] of byKey()) if (field.form === event.target) typed.delete(key);
  if (event.target.action.endsWith("/sign-out")) forgetAll();
});
document.addEventListener("DOMContentLoaded", () => {
  const here = byKey();
  for (const [key, value, seen, home] of JSON.parse(localStorage.getItem(shelf()) ?? "[]")) {
    const field = here.get(key);
    const folded = !field && home && document.querySelector(`[data-opens="${home}"]`);
    if (folded ? folded.childElementCount : !field || field.value === value || !survives(field)) continue;
    typed.set(key, value);
    homes.set(key, home);
    if (seen !== null) seenAt.set(key, seen);
    if (folded) {
      unsent.add(key);
      folded.dispatchEvent(new Event("reveal", { bubbles: true })); // what is typed is put there once it has come
      continue;
    }
    field.value = value;
    if (field.matches(".cell")) {
      unsent.add(key);
      field.dataset.half = ""; // it looks as it is: written and not kept yet
    }
    field.dispatchEvent(new Event("kept", { bubbles: true }));
  }
});

// -- And the rest is put back -----------------------------------------------------------------------------------------

document.addEventListener("htmx:afterSettle", () => {
  if (!typed.size) return;
  const here = byKey();
  for (const [key, value] of typed) {
    const field = here.get(key);
    if (!field || valueOf(field) === value) continue;
    if (field.matches("select") && ![...field.options].some((one) => one.value === value)) continue;
    field[ticked(field) ? "checked" : "value"] = value;
    if (unsent.has(key) && field.matches(".cell")) field.dataset.half = "";
    field.dispatchEvent(new Event("kept", { bubbles: true }));
  }
  const field = place && here.get(place[0]);
  if (!field) return;
  unsent.add(place[0]);
  field.focus({ preventScroll: true });
  if (field.setSelectionRange && place[1] !== null) field.setSelectionRange(place[1], place[2]);
});

// -- The focus stays where it was, or moves on ---------------------------------------------------------------------------

// Where the focus is, so that it is found again in what replaces it: by its id, by what it does, by its place.
let stood = null;
const FOCUSABLE = "a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex='0']";
const reached = (part) => [...part.querySelectorAll(FOCUSABLE)].filter((one) => !one.disabled && one.checkVisibility());
const does = (one) => ["hx-post", "href", "aria-label", "name"].map((name) => one.getAttribute(name)).join("\n");
document.addEventListener("htmx:beforeSwap", (event) => {
  const one = document.activeElement;
  stood = null;
  if (!one || !event.detail.target.contains(one)) return;
  const part = one.closest("section[id], aside[id], nav[id], form[id]") ?? event.detail.target;
  const selection = one.selectionStart === undefined ? null : [one.selectionStart, one.selectionEnd];
  stood = { id: one.id, does: does(one), part: part.id, turn: reached(part).indexOf(one), selection, top: scrollY };
});
document.addEventListener("htmx:afterSettle", () => {
  if (!stood || (document.activeElement && document.activeElement !== document.body)) return;
  const part = document.getElementById(stood.part) ?? document.getElementById("main");
  const all = reached(part);
  const same = (stood.id && document.getElementById(stood.id)) || all.find((other) => does(other) === stood.does);
  const one = same || all[Math.min(stood.turn, all.length - 1)];
  if (!same) scrollTo(scrollX, stood.top); // the browser held on to what is gone, and went where that ended up
  one?.focus({ preventScroll: true });
  if (stood.selection && one?.type === "text") one.setSelectionRange(...stood.selection);
  stood = null;
});

// Whoever has gone on meanwhile is not fetched back.
for (const type of ["keydown", "pointerdown"]) document.addEventListener(type, () => (stood = null), true);

// What was opened stays open, what was folded folded.
let folds = [];
let lines = [];
let refusals = []; // and why something was refused stands there until it is another, or was answered
document.addEventListener("htmx:beforeSwap", (event) => {
  folds = [...document.querySelectorAll("details[id]")].map((one) => [one.id, one.open]);
  lines = [...document.querySelectorAll("[aria-expanded='true'][id]")].map((one) => one.id);
  const asked = event.detail.requestConfig?.elt;
  const said = [...document.querySelectorAll("small.wrong[id], small.conflict[id]")];
  refusals = said.filter((one) => one.hasChildNodes() && !one.contains(asked));
});
document.addEventListener("htmx:afterSettle", () => {
  for (const [id, open] of folds) document.getElementById(id)?.toggleAttribute("open", open);
  for (const one of lines.map((id) => document.getElementById(id))) {
    if (one?.getAttribute("aria-expanded") === "false") one.click();
  }
  for (const said of refusals) {
    const place = said.isConnected ? null : document.getElementById(said.id);
    if (place && !place.hasChildNodes()) place.replaceWith(said);
  }
  [folds, lines, refusals] = [[], [], []];
});

// What stands folded is fetched when it is opened, and each request says what stands open.
document.addEventListener("htmx:configRequest", (event) => {
  const open = [...document.querySelectorAll("[data-opens]")].filter((one) => one.childElementCount && one.checkVisibility());
  event.detail.headers["Levelmoor-Opened"] = open.map((one) => one.dataset.opens).join(",");
});

// A change says which parts the page has: only those that are other come back.
document.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.verb === "get") return;
  if (event.detail.elt.matches(".cell")) event.detail.parameters.seen = seenOf(keyOf(event.detail.elt));
  const parts = [...document.querySelectorAll("[data-part][id]")].map((one) => [one.id, one.dataset.part]);
  if (parts.length) event.detail.parameters.have = JSON.stringify(Object.fromEntries(parts));
});

// A browser sees no change in a field whose text was put back by a script: it is told when the field is left.
document.addEventListener("focusout", (event) => {
  if (!unsent.size || !event.target.matches("input, select, textarea") || !kept(event.target)) return;
  const key = keyOf(event.target);
  if (unsent.delete(key) && event.target.isConnected) event.target.dispatchEvent(new Event("change", { bubbles: true }));
});
