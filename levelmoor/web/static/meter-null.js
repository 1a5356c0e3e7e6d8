// Matching by hand with a meter: key, read, unkey, move, key. No dial is written while it is keyed.

import { nullSearch } from "./null-search.js";
import { play } from "./tone.js";

const UNKEY = [[880, 0, 0.15, "square"], [880, 0.25, 0.15, "square"]];

// `take` is given the best so far, to be made a trial of.
export function meterNull(box, take) {
  const search = nullSearch(box);
  const [key, face, read] = ["[data-carrier]", "[data-carrier-face]", "[data-read]"].map((one) => box.querySelector(one));
  let began = 0;
  let ticking = 0;
  let sound = null;

  function keyed(on) {
    for (const one of search.dials.fields()) one.disabled = on;
    read.disabled = on;
    key.textContent = on ? "Unkey" : "Key";
    key.classList.toggle("keep", !on);
  }
  function tick() {
    const seconds = (performance.now() - began) / 1000;
    const over = seconds >= Number(box.querySelector("[data-longest]").value.replace(",", ".") || 5);
    face.textContent = over ? "Unkey now" : `${seconds.toFixed(1)} s keyed: read`;
    if (!over) return;
    clearInterval(ticking);
    navigator.vibrate?.(400);
    if (sound) play(sound, UNKEY);
  }
  box.addEventListener("change", (event) => event.target.matches("[data-dial]") && search.noted());
  key.addEventListener("click", () => {
    clearInterval(ticking);
    if (began) {
      began = 0;
      keyed(false);
      face.textContent = "Enter what it read.";
      read.focus();
      return;
    }
    sound ??= "AudioContext" in window ? new AudioContext() : null;
    began = performance.now();
    keyed(true);
    ticking = setInterval(tick, 100);
  });
  read.addEventListener("change", () => {
    const swr = /^(?:∞|inf)$/i.test(read.value.trim()) ? null : Number(read.value.trim().replace(",", ".").replace(/:1$/, ""));
    if (swr !== null && !(swr >= 1)) {
      face.textContent = "An SWR must be at least 1, as in 1.8; write inf if the needle is at its end.";
      return;
    }
    search.seen(swr);
    read.value = "";
    face.textContent = "Move one knob, then key.";
  });
  read.addEventListener("keydown", (event) => event.key === "Enter" && read.blur());
  box.querySelector("[data-take]").addEventListener("click", () => {
    const best = search.best();
    if (best) take({ ...best, power: box.querySelector("[data-power]").value.trim() });
    else face.textContent = "No reading yet.";
  });
}
