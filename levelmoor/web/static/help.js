// Help: searching the questions, opening the one that a link leads to, and going through the steps of those that are shown.

const tasks = [...document.querySelectorAll(".task")];

document.addEventListener("input", (event) => {
  const form = event.target.closest?.("[data-search-tasks]");
  if (!form) return;
  const words = event.target.value.toLowerCase().split(/\s+/).filter(Boolean);
  let found = 0;
  for (const task of tasks) {
    const text = `${task.textContent} ${task.dataset.words}`.toLowerCase();
    task.hidden = !words.every((word) => text.includes(word));
    found += !task.hidden;
  }
  form.querySelector("[role=status]").textContent = words.length ? `${found} of ${tasks.length} answers` : "";
});
document.addEventListener("submit", (event) => {
  if (!event.target.matches("[data-search-tasks]")) return;
  event.preventDefault();
  const first = tasks.find((task) => !task.hidden);
  if (first) open(first);
});

function open(task) {
  task.open = true;
  task.querySelector("summary").focus();
}
function follow() {
  const wanted = location.hash && document.getElementById(decodeURIComponent(location.hash.slice(1)))?.closest(".task");
  if (wanted) open(wanted);
}
window.addEventListener("hashchange", follow);
follow();

document.addEventListener("click", (event) => {
  const button = event.target.closest?.("[data-step]");
  if (!button) return;
  const task = button.closest(".task");
  const steps = [...task.querySelectorAll("[data-steps] > li")];
  const at = steps.findIndex((step) => !step.hidden) + Number(button.dataset.step);
  steps.forEach((step, n) => (step.hidden = n !== at));
  task.querySelector('[data-step="-1"]').disabled = at === 0;
  task.querySelector('[data-step="1"]').disabled = at === steps.length - 1;
  steps[at].tabIndex = -1;
  steps[at].focus();
});
