// Several people in one evaluation: who is here, what others changed, and what both changed.

const scope = () => document.querySelector("[data-changes][data-since]");
let latest = 0; // how far the history goes, as the server told last
let others = false; // whether somebody else changed something that this page does not show
let asked = false; // whether the page is to be redrawn, whatever the history says
let wished = false; // the same of a page that otherwise only says that it is old
let known = Number(scope()?.dataset.seen ?? 0); // up to where the page shows it

// -- Quietly, never under a cursor ---------------------------------------------------------------------------------------

const QUIET_MS = 2500; // whoever types is let finish
let typedAt = 0;
document.addEventListener("input", () => (typedAt = Date.now()), true);
const typing = () => Date.now() - typedAt < QUIET_MS && document.activeElement?.matches("#work input, #work textarea");
const SETTLE_MS = 300; // what this page changed itself is answered by then

let again = 0;

async function show() {
  const work = document.getElementById("work");
  if (!others && !asked) return;
  if (window.levelmoorBusy() || typing()) {
    clearTimeout(again);
    again = setTimeout(show, QUIET_MS);
    return;
  }
  const drawn = wished;
  others = asked = wished = false;
  if (!work) {
    if (drawn) drawAgain();
    else tell();
    return;
  }
  const state = Object.fromEntries(new FormData(document.getElementById("state")));
  const address = `${work.dataset.page}?${new URLSearchParams(state)}`;
  await htmx.ajax("GET", address, { source: document.body, target: "#work", swap: "outerHTML" }).catch(() => {});
}
// A refresh that failed is tried again, so that no page stays as it was; nobody asked for it, so nothing is said of it.
const FAILED_MS = 3000;
const refresh = ({ detail: { requestConfig } }) => requestConfig.verb === "get" && requestConfig.elt === document.body;
document.addEventListener("htmx:beforeSwap", (event) => {
  if (refresh(event) && event.detail.xhr.status >= 500) event.detail.shouldSwap = false;
});
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr } = event.detail;
  if (!refresh(event) || (xhr.status && xhr.status < 500)) return;
  asked = wished = true;
  clearTimeout(again);
  again = setTimeout(show, FAILED_MS);
});

const WHOLE = { "HX-History-Restore-Request": "true" }; // all of the page, as for who comes back to it
// Something that this page shows is different on the server: what waited here was sent, or something was restored. Half-written
// text stays. On pages for the hand, scripts hold on to parts of the page, so those are loaded again.
document.addEventListener("redraw", () => {
  asked = wished = true;
  show();
});
function drawAgain() {
  if (!document.querySelector("main.hand, main.sheet"))
    htmx.ajax("GET", location.href, { source: document.body, target: "#main", select: "#main", swap: "outerHTML", headers: WHOLE }).catch(() => {});
  else if (document.activeElement?.matches("input, select, textarea")) tell("This page has changed. ");
  else location.reload();
}

// A page with forms half filled is not drawn anew under a hand: it says that it is old.
function tell(words = "Somebody else has changed this evaluation. ") {
  const said = document.getElementById("said");
  const again = document.createElement("a");
  again.href = location.href;
  again.textContent = "Show it";
  said.className = "said";
  said.replaceChildren(words, again);
}

function stands(told) {
  latest = Math.max(latest, told.latest ?? 0);
  showHere(told.here ?? []);
  setTimeout(() => {
    others = latest > known;
    show();
  }, SETTLE_MS);
}

// What this page itself changed is no news; what came before it and was not shown is.
document.addEventListener("htmx:afterRequest", (event) => {
  const { xhr } = event.detail;
  const [before, seen] = ["Levelmoor-Before", "Levelmoor-Seen"].map((name) => Number(xhr.getResponseHeader?.(name) ?? 0));
  if (!scope() || !seen || xhr.status >= 400) return;
  latest = Math.max(latest, seen);
  // An answer to what was drawn anew meanwhile reaches nothing on the page: the page is asked for once more.
  if (before > known || !window.levelmoorLanded(xhr)) asked = true;
  else known = Math.max(known, seen);
  setTimeout(show, SETTLE_MS);
});
// While a change is on its way the page stays as it is, so that its answer finds what it is for.
document.addEventListener("htmx:beforeSwap", (event) => {
  if (!refresh(event) || !window.levelmoorBusy()) return;
  event.detail.shouldSwap = false;
  asked = wished = true;
  setTimeout(show, SETTLE_MS);
});
// What was asked for before a change may come after its answer: then it is older, and is asked for once more.
document.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.elt.id !== "work") return;
  known = Number(event.detail.elt.dataset.seen);
  others = latest > known;
  setTimeout(show, SETTLE_MS);
});

let people = [];
document.addEventListener("htmx:afterSettle", () => showHere(people));
function showHere(now) {
  people = now;
  const place = document.getElementById("here");
  place?.replaceChildren(
    ...people.map(({ name, initials }) => {
      const one = document.createElement("abbr");
      one.textContent = initials;
      one.title = `${name} is here`;
      return one;
    }),
  );
}

// -- Figures are drawn for the screen that they are on ----------------------------------------------------------------------

const NARROW = matchMedia("(max-width: 40rem)");
function tellScreen() {
  document.cookie = `screen=${NARROW.matches ? "narrow" : "wide"}; path=/; max-age=31536000; samesite=lax`;
}
function drawnForScreen() {
  tellScreen();
  if (document.querySelector("#work .panel") && !document.querySelector(`#work .panel .only-${NARROW.matches ? "narrow" : "wide"}`)) {
    asked = true;
    show();
  }
}
NARROW.addEventListener("change", drawnForScreen);
addEventListener("load", drawnForScreen);

// -- A stream, and behind it a slow look -----------------------------------------------------------------------------------

const LOOK_EVERY_MS = 20_000;
let stream = null;
let heard = 0; // when the stream last brought anything: a signal can go without the browser noticing

function follow() {
  const place = scope();
  if (!place || document.hidden || stream) return;
  stream = new EventSource(place.dataset.changes);
  for (const kind of ["open", "here", "message"]) stream.addEventListener(kind, () => (heard = Date.now()));
  stream.addEventListener("message", (event) => stands(JSON.parse(event.data)));
  stream.addEventListener("error", () => {
    if (stream?.readyState === EventSource.CLOSED) stream = null;
  });
}
function leave() {
  stream?.close();
  stream = null;
}
async function look() {
  const place = scope();
  if (!place || document.hidden) return;
  if (stream?.readyState === EventSource.OPEN) {
    if (Date.now() - heard < LOOK_EVERY_MS) return;
    leave();
  }
  try {
    const answer = await fetch(place.dataset.since, { redirect: "error" });
    if (answer.ok) stands((await answer.json()) ?? {});
    if (!stream) follow();
  } catch {
    // no signal: it is asked again
  }
}
document.addEventListener("visibilitychange", () => (document.hidden ? leave() : follow()));
addEventListener("pagehide", leave);
addEventListener("pageshow", follow);
setInterval(look, LOOK_EVERY_MS);
follow();

// -- Both changed the same: a choice ------------------------------------------------------------------------------------------

document.addEventListener("click", (event) => {
  const mine = event.target.closest?.("[data-keep-mine]");
  const theirs = event.target.closest?.("[data-take-theirs]");
  if (!mine && !theirs) return;
  const said = event.target.closest(".conflict");
  const cell = document.getElementById((mine ?? theirs).dataset[mine ? "keepMine" : "takeTheirs"]);
  window.levelmoorSeen(cell, Number((mine ?? theirs).dataset.seen));
  cell.focus();
  if (mine) {
    cell.dispatchEvent(new Event("change", { bubbles: true }));
  } else {
    cell.value = theirs.dataset.value;
    window.levelmoorForget(cell);
  }
  said.className = "quiet";
  said.textContent = theirs ? "Kept theirs." : "";
});
