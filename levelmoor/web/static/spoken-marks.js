// The marks of a tuner's dials, and what the meter read, by voice: only where the browser can hear.

const Hearing = window.SpeechRecognition ?? window.webkitSpeechRecognition;
const UNITS = "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen".split(" ");
const TENS = "twenty thirty forty fifty sixty seventy eighty ninety".split(" ");

// What was heard as words and figures: "coil forty two, antenna 3 point 5" is coil 42 antenna 3.5.
function wordsOf(heard) {
  const found = [];
  let point = false; // the figure before goes on behind its decimal point
  for (const word of heard.toLowerCase().split(/[^\p{L}\d.]+|\.(?!\d)/u).filter(Boolean)) {
    const [unit, ten] = [UNITS.indexOf(word), TENS.indexOf(word)];
    const figure = unit >= 0 ? String(unit) : ten >= 0 ? String(20 + 10 * ten) : /^[\d.]+$/.test(word) ? word : null;
    const last = found.at(-1) ?? "";
    if (figure === null) {
      point = (word === "point" || word === "decimal") && /^\d+$/.test(last);
      found.push(point ? `${found.pop()}.` : word);
    } else if (point) found.push(found.pop() + figure);
    else if (unit > 0 && unit < 10 && /^[2-9]0$/.test(last) && heard.toLowerCase().includes(`${TENS[last / 10 - 2]} ${word}`)) found.push(String(Number(found.pop()) + unit));
    else found.push(figure);
  }
  return found;
}
const isMark = (word) => /^\d+(\.\d+)?$/.test(word ?? "") || /^\p{L}$/u.test(word ?? "");

// Which of the names a mark was said for: [[name, mark], ...]. A figure alone is for the only one.
export function marksIn(heard, names) {
  const words = wordsOf(heard);
  if (names.length === 1 && words.length === 1 && isMark(words[0])) return [[names[0], words[0]]];
  return names.flatMap((name) => {
    const said = wordsOf(name);
    const at = words.findIndex((_, i) => said.every((word, k) => words[i + k] === word) && isMark(words[i + said.length]));
    return at < 0 ? [] : [[name, words[at + said.length].toUpperCase()]];
  });
}

function write(field, value) {
  field.value = value;
  for (const type of ["input", "change"]) field.dispatchEvent(new Event(type, { bubbles: true }));
}

export function hear(box, fields) {
  const [button, told] = ["[data-listen]", "[data-heard]"].map((one) => box.querySelector(one));
  if (!Hearing || !button) return;
  button.closest("[data-spoken]").hidden = false;
  const hearing = new Hearing();
  hearing.lang = "en";
  const ask = button.textContent;
  button.addEventListener("click", () => {
    button.textContent = "Listening…";
    hearing.start();
  });
  hearing.addEventListener("end", () => (button.textContent = ask));
  hearing.addEventListener("error", ({ error }) => {
    told.textContent =
      error === "not-allowed" ? "The browser may not use the microphone: allow it, or type the marks."
      : error === "no-speech" ? "Nothing was heard."
      : "The browser cannot listen right now: type the marks.";
  });
  hearing.addEventListener("result", ({ results }) => {
    const heard = results[0][0].transcript.trim();
    const read = box.querySelector("[data-read]");
    const open = new Map(fields().filter((one) => !one.disabled).map((one) => [one.dataset.dial, one]));
    const marks = marksIn(heard, [...open.keys()]);
    const swr = read && !read.disabled ? marksIn(heard, ["SWR"]) : [];
    for (const [name, mark] of marks) write(open.get(name), mark);
    for (const [, figure] of swr) write(read, figure);
    const all = [...marks, ...swr].map((one) => one.join(" ")).join(", ");
    told.textContent = all ? `Heard “${heard}”: ${all}.` : `Heard “${heard}”, which names no dial. Say its name and its mark.`;
  });
}
