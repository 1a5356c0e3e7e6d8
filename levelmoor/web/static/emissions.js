// The keying timer: short on, long off, by the radio's duty cycle. It keys nothing; the person does.

let ticking = null;

function face(words, left, state) {
  const timer = document.querySelector("[data-timer]");
  if (!timer) return;
  timer.dataset.state = state;
  const shown = timer.querySelector("[data-face]");
  if (shown.textContent !== words) shown.textContent = words;
  timer.querySelector("[data-left]").textContent = left ? `${left} s` : "";
}

function stop(words = "Ready") {
  clearInterval(ticking);
  ticking = null;
  face(words, "", "ready");
}

function start() {
  const on = Math.min(Math.max(parseFloat(document.querySelector("[data-on]").value.replace(",", ".")) || 10, 1), 60);
  const duty = Math.min(Math.max(parseFloat(document.querySelector("[data-duty]").value.replace(",", ".")) || 25, 1), 100) / 100;
  const off = Math.ceil((on * (1 - duty)) / duty);
  const began = Date.now();
  stop();
  const show = () => {
    const spent = (Date.now() - began) / 1000;
    if (spent < on) face("Key now", Math.ceil(on - spent), "on");
    else if (spent < on + off) face("Let it cool", Math.ceil(on + off - spent), "off");
    else stop("Ready for the next");
  };
  show();
  ticking = setInterval(show, 200);
}

document.addEventListener("click", (event) => {
  if (event.target.closest("[data-timer-start]")) start();
  if (event.target.closest("[data-timer-stop]")) stop();
});
