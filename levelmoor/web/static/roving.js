// The keyboard: a long list or table is one stop of Tab and is gone through with the arrows; what is typed in one of its
// fields makes Tab go on from field to field until it is left.

const ROVING = ".steps, header nav, .ledger, #fold-sweeps, #fold-facts, table.case, table.numbers, table.rounds, .turns, .owned-list, .taps, .facets section, .shelf-rows";
const STOPS = "a[href], button, input:not([type=hidden]), select, textarea, summary";

const entering = new WeakSet(); // containers in which something is being typed
const last = new WeakMap(); // container -> the stop in hand

const containers = () => [...document.querySelectorAll(ROVING)].filter((one) => !one.parentElement.closest(ROVING));
const stopsOf = (box) => [...box.querySelectorAll(STOPS)].filter((one) => !one.disabled && one.checkVisibility() && (one.tabIndex >= 0 || one.dataset.roved));

function rove(box) {
  const stops = stopsOf(box);
  const known = last.get(box);
  const now = stops.includes(known) ? known : (stops.find((one) => one.hasAttribute("aria-current")) ?? stops[0]);
  for (const one of stops) {
    const reached = one === now || entering.has(box);
    if (reached && one.dataset.roved) {
      delete one.dataset.roved;
      one.removeAttribute("tabindex");
    } else if (!reached && !one.dataset.roved) {
      one.dataset.roved = "yes";
      one.tabIndex = -1;
    }
  }
}
const roveAll = () => containers().forEach(rove);
const boxOf = (one) => containers().find((box) => box.contains(one));

document.addEventListener("focusin", (event) => {
  const box = event.target.matches?.(STOPS) && boxOf(event.target);
  if (!box) return;
  last.set(box, event.target);
  rove(box);
});
document.addEventListener("focusout", (event) => {
  const box = boxOf(event.target);
  if (!box || !entering.has(box) || box.contains(event.relatedTarget)) return;
  entering.delete(box);
  rove(box);
});
document.addEventListener("input", (event) => {
  const box = boxOf(event.target);
  if (!box || entering.has(box)) return;
  entering.add(box);
  rove(box);
});

const STEPS = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 };
// In a field the arrows belong to its text, or to its list, until there is nothing more to go to.
function isAtItsEnd(field, key) {
  if (field.matches("select")) return key === "ArrowLeft" || key === "ArrowRight";
  if (!field.matches("input, textarea") || ["checkbox", "radio", "file", "date", "datetime-local", "number"].includes(field.type)) {
    return !field.matches("input") || ["checkbox", "file"].includes(field.type);
  }
  if (field.matches("input") && (key === "ArrowUp" || key === "ArrowDown")) return true;
  const [at, end] = [field.selectionStart, field.value.length];
  return field.selectionEnd === at && (STEPS[key] < 0 ? at === 0 : at === end);
}
function below(stops, from, step) {
  const row = (one) => one.closest("tr, li, dd, div");
  if (!from.closest("tr")) return null;
  const place = stops.filter((one) => row(one) === row(from)).indexOf(from);
  const rows = [...new Set(stops.map(row))];
  const next = rows[rows.indexOf(row(from)) + step];
  if (!next) return from;
  const there = stops.filter((one) => row(one) === next);
  return there[Math.min(place, there.length - 1)];
}
document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.shiftKey || event.defaultPrevented) return;
  const step = STEPS[event.key];
  const box = (step || event.key === "Home" || event.key === "End") && event.target.matches?.(STOPS) && boxOf(event.target);
  if (!box) return;
  if (!step && event.target.matches("input, select, textarea")) return;
  if (step && !isAtItsEnd(event.target, event.key)) return;
  const stops = stopsOf(box);
  const upright = event.key === "ArrowUp" || event.key === "ArrowDown";
  const to = !step
    ? stops.at(event.key === "Home" ? 0 : -1)
    : ((upright && below(stops, event.target, step)) ?? stops[stops.indexOf(event.target) + step]);
  event.preventDefault();
  to?.focus();
});

// A place that takes no focus by itself gets it all the same: keys and Tab go on from there.
export function land(place) {
  if (!place.matches(STOPS)) {
    place.tabIndex = -1;
    place.dataset.landed = "";
  }
  place.focus({ preventScroll: true });
}
document.addEventListener("htmx:afterSettle", roveAll);
document.addEventListener("toggle", roveAll, true);
roveAll();
