// A file that was chosen but not sent, or is being chosen, stays in its field when the page is redrawn.

const choosing = new WeakSet(); // fields whose dialog is open
document.addEventListener("click", ({ target }) => target.matches?.("input[type=file]") && choosing.add(target), true);
for (const type of ["change", "cancel"]) document.addEventListener(type, ({ target }) => choosing.delete(target), true);

// A field's place: where its form goes, its name, and its turn among those alike.
function byPlace() {
  const turns = new Map();
  return new Map(
    [...document.querySelectorAll("input[type=file]")].map((field) => {
      const owner = field.closest("[hx-post], form");
      const alike = [owner?.getAttribute("hx-post") ?? owner?.getAttribute("action"), field.name].join("\n");
      turns.set(alike, (turns.get(alike) ?? -1) + 1);
      return [`${alike}\n${turns.get(alike)}`, field];
    }),
  );
}

let held = []; // places with the fields that stay
document.addEventListener("htmx:beforeSwap", ({ detail: { requestConfig } }) => {
  const sender = requestConfig?.elt;
  const sent = (field) => sender && sender !== document.body && (sender.form ?? sender.closest("form") ?? sender).contains(field);
  held = [...byPlace()].filter(([, field]) => choosing.has(field) || (field.files.length && !sent(field)));
});
document.addEventListener("htmx:afterSettle", () => {
  const here = byPlace();
  for (const [place, field] of held) {
    const other = here.get(place);
    if (!other || other === field) continue;
    other.replaceWith(field);
    htmx.process(field);
  }
  held = [];
});
