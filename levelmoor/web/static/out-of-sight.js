// For who works out of sight of the screen: the tone, the figure spoken, the screen kept awake, a hand at the element.

import { sounding } from "./tone.js";

const box = document.getElementById("out-of-sight");
const NO_SWEEP_MS = 6000; // so long without one is worth a sound
const TURN_MS = 2500; // each of several frequencies is heard so long
const SPEAK_MS = 4000;

let sweep = null;
let sweptAt = 0;
let trouble = false;
let touched = 0; // until when a hand is said to be at it by a tap
let wasUnsteady = false;
let steadyUntil = 0;
let spokenAt = 0;
let spoken = "";
let lock = null;

const option = (name) => document.querySelector(`#out-of-sight [name="${name}"]`);
const say = (words) => (box.querySelector("[data-out-said]").textContent = words);

export function told(one) {
  sweep = one;
  sweptAt = Date.now();
  trouble = false;
  const unsteady = !steady();
  if (wasUnsteady && !unsteady) steadyUntil = Date.now() + 1200;
  wasUnsteady = unsteady;
  box.querySelector("[data-out-hand]").textContent = unsteady ? (one.hand?.words ?? "") || "A hand is at the antenna: not counted." : "";
  speak();
}
export const troubled = () => (trouble = true);
// Whether what was swept last counts: no hand at the element, none said to be there.
export const steady = () => Date.now() > touched && (sweep?.hand?.counts ?? true);

// Of several wanted frequencies one after the other is heard.
function inTurn() {
  const heard = sweep?.heard ?? [];
  return heard.length ? heard[Math.floor(Date.now() / TURN_MS) % heard.length] : null;
}

function hear() {
  if (trouble) return { kind: "overload" };
  if (!sweep || Date.now() - sweptAt > NO_SWEEP_MS) return { kind: "waiting" };
  if (!steady()) return { kind: "hand" };
  if (Date.now() < steadyUntil) return { kind: "steady" };
  const now = inTurn();
  if (!now) return null;
  if (now.swr === null) return { kind: "overload" };
  return { kind: "swr", swr: now.swr, within: now.within, top: Math.max(Number(option("top").value) || 3, 1.2) };
}

function speak() {
  if (!option("speak").checked || !("speechSynthesis" in window) || Date.now() - spokenAt < SPEAK_MS || !steady()) return;
  const now = inTurn();
  if (!now || now.spoken === spoken) return;
  spoken = now.spoken;
  spokenAt = Date.now();
  speechSynthesis.cancel();
  speechSynthesis.speak(new SpeechSynthesisUtterance(spoken));
}

async function stayAwake(on) {
  if (!on) {
    await lock?.release();
    lock = null;
    return true;
  }
  try {
    lock = await navigator.wakeLock.request("screen");
    return true;
  } catch {
    return false;
  }
}

if (box) {
  const tone = sounding(hear);
  option("sound").addEventListener("change", async (event) => {
    if (!event.target.checked) {
      tone.stop();
      return stayAwake(option("awake").checked);
    }
    const [heard, awake] = [await tone.start(), await stayAwake(true)];
    if (awake) option("awake").checked = true;
    if (!heard) say("This browser does not play sound yet: tap once more.");
    else say(awake ? "The screen stays on; in a pocket, turn it inwards and do not lock it." : "This browser cannot keep the screen on: set the screen timeout to never, or the tone stops with the screen.");
  });
  option("awake").addEventListener("change", async (event) => {
    if (!(await stayAwake(event.target.checked))) {
      event.target.checked = false;
      say("This browser cannot keep the screen on.");
    }
  });
  option("speak").addEventListener("change", (event) => {
    if (event.target.checked && !("speechSynthesis" in window)) {
      event.target.checked = false;
      say("This browser cannot speak.");
    }
    spoken = "";
    speak();
  });
  box.querySelector("[data-hand-on]").addEventListener("click", () => {
    touched = Date.now() + 1000 * (Number(option("steady").value) || 3);
    document.dispatchEvent(new CustomEvent("hand-on"));
    say("A hand is at the antenna: nothing counts until you let go and it is steady.");
  });
  document.addEventListener("visibilitychange", () => {
    if (!document.hidden && option("awake").checked) stayAwake(true); // a lock ends with the page out of sight
  });
}
