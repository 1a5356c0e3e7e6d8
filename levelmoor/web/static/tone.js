// A sweep to the ear: the pitch rises as SWR falls, pulses come nearer together towards the target. What there is to hear
// besides has sounds of its own: within the limit, no new sweep, everything reflected, a hand at the element.

const LOW_HZ = 220; // at the top of the range
const HIGH_HZ = 1760; // at SWR 1
const SLOW_S = 0.9; // from one pulse to the next
const FAST_S = 0.15;
const PULSE_S = 0.09;
const LOUD = 0.25;

export const gammaOf = (swr) => (Number.isFinite(swr) ? (swr - 1) / (swr + 1) : 1);
// How near to SWR 1 within the range, 0 at its top and beyond, 1 at SWR 1: in |gamma|, as the figure is drawn.
const nearness = (swr, top) => 1 - Math.min(Math.max(gammaOf(swr) / gammaOf(top), 0), 1);
export const pitchOf = (swr, top) => LOW_HZ * (HIGH_HZ / LOW_HZ) ** nearness(swr, top);
export const gapOf = (swr, top) => SLOW_S * (FAST_S / SLOW_S) ** nearness(swr, top);

// The notes of what is heard: [frequency in Hz, start in s, length in s, form], and when the next are due.
export function notesOf(heard) {
  if (heard.kind === "waiting") return { notes: [[110, 0, 0.06, "triangle"], [110, 0.14, 0.06, "triangle"]], next: 2 };
  if (heard.kind === "hand") return { notes: [[160, 0, 0.05, "triangle"]], next: 0.5 };
  if (heard.kind === "steady") return { notes: [[660, 0, 0.09, "sine"], [990, 0.1, 0.12, "sine"]], next: 0.6 };
  if (heard.kind === "overload") return { notes: [[90, 0, 0.3, "square"]], next: 0.5 };
  const pitch = pitchOf(heard.swr, heard.top);
  const notes = [[pitch, 0, PULSE_S, "sine"]];
  if (heard.within) notes.push([pitch * 1.5, 0.02, PULSE_S + 0.05, "sine"]); // a fifth above it: within the limit
  return { notes, next: gapOf(heard.swr, heard.top) };
}

// Puts notes into an audio graph: an oscillator and a gain for each, which end by themselves.
export function play(context, notes, at = context.currentTime) {
  for (const [hz, start, length, form] of notes) {
    const [tone, gain] = [context.createOscillator(), context.createGain()];
    tone.type = form;
    tone.frequency.value = hz;
    const from = at + start;
    gain.gain.setValueAtTime(0, from);
    gain.gain.linearRampToValueAtTime(LOUD, from + 0.008);
    gain.gain.setValueAtTime(LOUD, from + length - 0.012);
    gain.gain.linearRampToValueAtTime(0, from + length);
    tone.connect(gain).connect(context.destination);
    tone.start(from);
    tone.stop(from + length + 0.01);
  }
}

// Sounds as long as it is on; what is heard is asked for before each pulse.
export function sounding(hear) {
  let context = null;
  let timer = 0;
  const beat = () => {
    const heard = hear();
    const { notes, next } = heard ? notesOf(heard) : { notes: [], next: 0.3 };
    play(context, notes);
    timer = setTimeout(beat, next * 1000);
  };
  return {
    async start() {
      context ??= new AudioContext();
      await context.resume();
      clearTimeout(timer);
      beat();
      return context.state === "running";
    },
    stop() {
      clearTimeout(timer);
      context?.suspend();
    },
  };
}
