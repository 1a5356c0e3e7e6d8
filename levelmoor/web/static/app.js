// The page's own behaviour: reading off the figure, keys, dropped files. Everything else is on the server.

import { land } from "./roving.js";
import { localTime } from "./local-time.js";
import { offerBack } from "./offer-back.js";
import { frequency, reflection } from "./reflection.js";

// -- Reading off -------------------------------------------------------------------------------------------------

const read = new WeakMap(); // panel -> its data, parsed once

function dataOf(panel) {
  if (!read.has(panel)) read.set(panel, { ...JSON.parse(panel.dataset.points), at: -1 });
  return read.get(panel);
}

function show(panel, i) {
  const data = dataOf(panel);
  if (!data.f.length) return;
  i = Math.max(0, Math.min(i, data.f.length - 1));
  data.at = i;
  const gamma = [data.re[i], data.im[i]];
  const said = { f: frequency(data.f[i]), ...reflection(gamma, data.z0, data.scalar) };
  const box = panel.closest(".figure-box");
  for (const [name, words] of Object.entries(said)) box.querySelector(`[data-read="${name}"]`).textContent = words;
  for (const other of box.querySelectorAll(".cursor")) other.setAttribute("visibility", "hidden");
  for (const svg of panel.querySelectorAll("svg.landscape")) {
    const d = svg.dataset;
    const x = +d.left + ((data.f[i] - d.low) / (d.high - d.low)) * (d.right - d.left);
    const y = +d.bottom - Math.min(Math.hypot(...gamma) / d.topGamma, 1) * (d.bottom - d.top);
    const cursor = svg.querySelector(".cursor");
    cursor.setAttribute("visibility", "visible");
    cursor.setAttribute("transform", `translate(${x.toFixed(1)} 0)`);
    cursor.querySelector("circle").setAttribute("cy", y.toFixed(1));
  }
}

function nearest(panel, clientX) {
  const svg = [...panel.querySelectorAll("svg.landscape")].find((one) => one.getBoundingClientRect().width);
  const box = svg.getBoundingClientRect();
  const d = svg.dataset;
  const x = ((clientX - box.left) / box.width) * svg.viewBox.baseVal.width;
  const f = +d.low + ((x - d.left) / (d.right - d.left)) * (d.high - d.low);
  const points = dataOf(panel).f;
  let [low, high] = [0, points.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (points[middle] < f) low = middle;
    else high = middle;
  }
  return f - points[low] < points[high] - f ? low : high;
}

function best(panel) {
  const { re, im, f } = dataOf(panel);
  let at = 0;
  for (let i = 1; i < f.length; i++) if (Math.hypot(re[i], im[i]) < Math.hypot(re[at], im[at])) at = i;
  return at;
}

document.addEventListener("pointermove", (event) => {
  const panel = event.target.closest?.(".panel");
  if (panel) show(panel, nearest(panel, event.clientX));
});
document.addEventListener("pointerdown", (event) => {
  const panel = event.target.closest?.(".panel");
  if (panel) show(panel, nearest(panel, event.clientX));
});

const moves = { ArrowLeft: -1, ArrowRight: 1, PageUp: 10, PageDown: -10, Home: -Infinity, End: Infinity };

function announce(words) {
  document.getElementById("announced").textContent = words;
}

function readByKey(event) {
  const panel = event.target.closest?.(".panel");
  if (!panel || !(event.key in moves)) return false;
  const data = dataOf(panel);
  show(panel, (data.at < 0 ? best(panel) : data.at) + moves[event.key]);
  const read = (name) => panel.closest(".figure-box").querySelector(`[data-read="${name}"]`).textContent;
  announce(`${read("f")}, SWR ${read("swr")}`);
  event.preventDefault();
  return true;
}

// A figure is never without its numbers: each starts at the best point of its first panel.
function start() {
  document.documentElement.classList.add("reads"); // without scripts nothing is read off
  for (const box of document.querySelectorAll(".figure-box")) {
    const panel = box.querySelector(".panel");
    if (panel) show(panel, best(panel));
  }
}

// -- Keys --------------------------------------------------------------------------------------------------------

function follow(target) {
  if (target.matches("a")) {
    target.focus({ preventScroll: true }); // so that it has the focus again once it is redrawn
    target.click();
  }
  else if (target.matches("summary")) {
    target.parentElement.open = true;
    target.parentElement.querySelector("input:not([type=hidden])").focus();
  } else {
    target.focus();
    if (target.matches("input[type=file]")) target.click();
  }
}

// Escape takes back what is being typed in a cell; nothing is sent, and what was longer than a slip can be had back.
const SLIP = 12;
function giveUp(field) {
  if (field.matches(".cell") && !field.matches("select")) {
    const [typed, place] = [field.value, window.levelmoorKey(field)];
    if (typed !== field.defaultValue && typed.length > SLIP) {
      offerBack("What you typed was dropped.", () => {
        const again = window.levelmoorField(place) ?? field;
        again.value = typed;
        again.dispatchEvent(new Event("input", { bubbles: true }));
        again.focus();
      });
    }
    field.value = field.defaultValue;
    window.levelmoorForget(field);
  }
  land(field.closest("section[id], form[id], aside, main") ?? document.getElementById("main"));
}

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.key === "Escape" && document.activeElement?.matches("input, select, textarea")) {
    giveUp(document.activeElement);
    return;
  }
  // In the lists of the bench a letter goes on to the next list, and chooses nothing there by what begins with it.
  const list = event.target.matches("select[data-hotkey]") && /^[a-z]$/.test(event.key);
  if (event.target.matches("input, select, textarea") && !list) return;
  if (list && localStorage.getItem(LETTERS) !== "off") event.preventDefault();
  if (readByKey(event) || localStorage.getItem(LETTERS) === "off") return;
  if (event.key === "[" || event.key === "]") {
    const all = [...document.querySelectorAll("[data-sweep]")];
    const at = all.findIndex((one) => one.hasAttribute("aria-current"));
    const next = all[at + (event.key === "]" ? 1 : -1)];
    if (next) follow(next);
    return;
  }
  const target = [...document.querySelectorAll("[data-hotkey]")].find((one) => one.dataset.hotkey === event.key);
  if (target) {
    event.preventDefault();
    follow(target);
  }
});

// -- Files -------------------------------------------------------------------------------------------------------

function carriesFiles(event) {
  return event.dataTransfer && [...event.dataTransfer.types].includes("Files") && takesFiles(event.target);
}

// What a file is of is told by where it is dropped: on a field or form of its own, else it is a sweep of the sample.
function takesFiles(target) {
  const field = "input[type=file]:not(:disabled)";
  const near = target.closest?.(`label:has(${field})`) ?? target.closest?.(`form:has(${field})`);
  return near?.querySelector(field) ?? document.getElementById("files") ?? document.getElementById("check-files");
}

document.addEventListener("dragover", (event) => {
  if (!carriesFiles(event)) return;
  event.preventDefault();
  document.body.classList.add("dropping");
});
document.addEventListener("dragleave", (event) => {
  if (!event.relatedTarget) document.body.classList.remove("dropping");
});
document.addEventListener("drop", (event) => {
  if (!carriesFiles(event)) return;
  event.preventDefault();
  document.body.classList.remove("dropping");
  const input = takesFiles(event.target);
  input.files = event.dataTransfer.files;
  input.closest("details")?.setAttribute("open", "");
  input.dispatchEvent(new Event("change", { bubbles: true }));
});
document.addEventListener("htmx:xhr:progress", (event) => {
  const bar = event.target.id === "drop" && event.target.querySelector("progress");
  if (!bar || !event.detail.lengthComputable) return;
  bar.hidden = false;
  bar.value = event.detail.loaded / event.detail.total;
});

// A file's own date and time goes with it.
document.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.elt.id !== "drop") return;
  const files = [...(document.getElementById("files")?.files ?? [])];
  event.detail.formData.delete("modified");
  for (const file of files) event.detail.formData.append("modified", localTime(new Date(file.lastModified)));
});

// -- Forms of the bench ------------------------------------------------------------------------------------------

// Of a form for several kinds only the fields of the chosen kind are there and are sent.
function showKind(select) {
  const form = document.querySelector(select.dataset.kindOf);
  for (const part of form.querySelectorAll("[data-for]")) {
    const wanted = part.dataset.for.split(" ").includes(select.value);
    part.hidden = !wanted;
    for (const field of part.querySelectorAll("input, select, textarea")) field.disabled = !wanted;
  }
}
function prepareForms() {
  for (const field of document.querySelectorAll("[data-now]")) field.value ||= localTime(new Date());
  for (const select of document.querySelectorAll("[data-kind-of]")) showKind(select);
}
document.addEventListener("change", (event) => {
  if (event.target.matches("[data-kind-of]")) showKind(event.target);
});
document.addEventListener("click", (event) => {
  const put = event.target.closest?.("[data-put]");
  if (!put) return;
  const field = document.querySelector(put.dataset.put);
  field.value = put.dataset.text;
  field.dispatchEvent(new Event("input", { bubbles: true }));
  field.focus();
});
document.addEventListener("htmx:afterSettle", prepareForms);
prepareForms();

// A link that is shown once is there to be copied.
document.addEventListener("focusin", (event) => {
  if (event.target.matches("[data-select]")) event.target.select();
});

// The example of a claim goes by the kind of product.
document.addEventListener("change", (event) => {
  const example = event.target.selectedOptions?.[0]?.dataset.example;
  if (example) event.target.form.elements.claim.placeholder = example;
});

// What changes in a copied setup suggests what the copy is to the product.
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-proposes-role]")) return;
  event.target.form.elements.role.value = event.target.selectedOptions[0].dataset.role;
});

// -- What was removed can be had back as long as the page is open -----------------------------------------------------

document.addEventListener("removed", (event) => {
  const undo = offerBack(event.detail.words);
  undo.setAttribute("hx-post", event.detail.undo);
  undo.setAttribute("hx-swap", "none");
  htmx.process(undo);
});
document.addEventListener("told", (event) => tell(event.detail.value));
const TOLD_MS = 6000;
function tell(words) {
  const said = document.getElementById("said");
  said.className = "said";
  said.textContent = words;
  setTimeout(() => {
    if (said.textContent === words) said.replaceChildren();
  }, TOLD_MS);
}

// -- What is folded opens where it is, and where an address leads to it -----------------------------------------------------

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[aria-expanded]");
  if (!button) return;
  const open = button.getAttribute("aria-expanded") !== "true";
  button.setAttribute("aria-expanded", String(open));
  const opens = document.getElementById(button.getAttribute("aria-controls"));
  opens.hidden = !open;
  if (open) fill(opens);
});
document.addEventListener("toggle", (event) => event.target.open && fill(event.target), true);
document.addEventListener("reveal", (event) => {
  const line = event.target.closest("tr[hidden]");
  if (line) document.querySelector(`[aria-controls="${line.id}"]`).click();
  else event.target.closest("details").open = true;
});
// What stood folded is fetched once it is seen.
function fill(opens) {
  for (const one of opens.querySelectorAll("[data-opens]")) {
    if (!one.childElementCount) htmx.ajax("GET", one.dataset.from, { source: one, target: one, swap: "innerHTML" }).catch(() => {});
  }
}
document.addEventListener("click", (event) => {
  const link = event.target.closest?.("a[href*='#']");
  if (link && link.pathname === location.pathname) unfold(link.hash);
});
function unfold(hash) {
  const part = hash.length > 1 && document.getElementById(hash.slice(1));
  const fold = part && (part.matches("details") ? part : part.querySelector(":scope > details"));
  if (fold) fold.open = true;
}
unfold(location.hash);

// On a telephone the details of a sweep stand folded: its result comes first.
const NARROW = matchMedia("(max-width: 40rem)");
function foldNarrow() {
  if (NARROW.matches) for (const one of document.querySelectorAll("[data-folds-narrow]")) one.open = false;
}
foldNarrow();

// On a telephone the rows of a published table stand under each other, each cell with the heading of its column.
function stack() {
  for (const table of document.querySelectorAll(":is(.report, .shelf) .plain-table, .report .numbers")) {
    const headings = [...table.querySelectorAll("thead th")].map((one) => one.textContent.replaceAll(/\s+/g, " ").trim());
    table.classList.toggle("stacked", NARROW.matches && headings.length > 2);
    if (!table.classList.contains("stacked") || table.dataset.labelled) continue;
    table.dataset.labelled = "";
    for (const row of table.tBodies[0]?.rows ?? []) {
      for (const [n, cell] of [...row.cells].entries()) {
        if (cell.matches("th")) continue;
        cell.dataset.column = headings[n] ?? "";
        const inside = document.createElement("span");
        inside.className = "cell-said";
        inside.append(...cell.childNodes);
        if (inside.textContent.trim() || inside.firstElementChild) cell.append(inside);
        else cell.replaceChildren();
      }
    }
  }
}
NARROW.addEventListener("change", stack);
stack();

// A table that is wider than the screen says so.
function markWide() {
  for (const one of document.querySelectorAll(".scroll")) one.toggleAttribute("data-wider", one.scrollWidth > one.clientWidth + 2);
}
addEventListener("resize", markWide);
document.addEventListener("htmx:afterSettle", markWide);
document.addEventListener("toggle", markWide, true);
document.fonts?.ready.then(markWide);
markWide();

document.addEventListener("click", (event) => {
  const on = event.target.closest?.("[data-comment-on]");
  if (!on) return;
  unfold("#comments");
  document.getElementById("comment-about").value = on.dataset.commentOn;
  document.querySelector("#comments textarea").focus();
});

// Single letters can be switched off, for who dictates or types with one hand.
const LETTERS = "levelmoor-letters";
for (const box of document.querySelectorAll("[data-letters]")) box.checked = localStorage.getItem(LETTERS) !== "off";
document.addEventListener("change", (event) => {
  if (event.target.matches("[data-letters]")) localStorage.setItem(LETTERS, event.target.checked ? "on" : "off");
});

// All of a column at once.
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-all]")) return;
  const name = event.target.dataset.all;
  for (const box of document.querySelectorAll(`[name="${name}"]`)) box.checked = event.target.checked;
});

// -- Times in the zone of who reads ------------------------------------------------------------------------------------------

function zoned() {
  for (const one of document.querySelectorAll("time[datetime]:not([data-zoned])")) {
    const at = new Date(one.dateTime);
    if (Number.isNaN(at.getTime()) || !one.dateTime.includes("T")) continue;
    const short = one.textContent.trim().length < 12;
    one.title = one.textContent.trim();
    one.textContent = short ? localTime(at).slice(11) : localTime(at).replace("T", " ");
    one.dataset.zoned = "";
  }
}
document.addEventListener("htmx:afterSettle", zoned);
zoned();

// -- Small things ------------------------------------------------------------------------------------------------

document.addEventListener("change", (event) => {
  if (event.target.matches("[data-submit]")) event.target.form.requestSubmit();
});
document.addEventListener("htmx:afterSettle", start);
// What was refused is said where it is seen.
document.addEventListener("htmx:afterSettle", (event) => {
  const where = {
    work: "#problems [role=alert]",
    "bench-work": "[role=alert]",
    "plan-work": "[role=alert]",
    "emissions-work": ":scope > [role=alert]",
  }[event.detail.elt.id];
  if (where) event.detail.elt.querySelector(where)?.scrollIntoView({ block: "center" });
});
start();
