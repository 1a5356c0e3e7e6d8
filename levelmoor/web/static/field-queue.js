// What is entered in the field goes into the outbox at once, and by it to the server as soon as there is a signal.

import { entries as entriesOf, ident, sentAt } from "./outbox.js";

export { ident };

// `name` is what the entries are called on their way, `said` what is done with the answer that kept them. Where something
// reached the server while this page was on its way here, the server is asked once for it; where the page `follows`, again
// and again for what others enter.
const JUST_MS = 10_000;
export function fieldQueue({ address, name, said, label = () => "", changed = () => {}, follows = false }) {
  const signal = document.getElementById("signal");
  const headers = () => ({ "Content-Type": "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) });
  let waited = false;

  function say(words, wrong = false) {
    signal.textContent = words;
    signal.className = wrong ? "wrong" : "quiet";
  }
  function stands() {
    const [count, refused] = [queue.waiting().length, queue.refused().length];
    if (refused) say("Not everything was accepted; see below.", true);
    else if (count) say(`${count} ${count === 1 ? "entry waits" : "entries wait"} to be sent; nothing is lost.`);
    else if (waited) say("Everything is saved.");
    waited ||= count > 0;
    changed();
  }

  const queue = entriesOf(address, name, said);
  document.addEventListener("outbox", stands);

  async function ask() {
    if (queue.waiting().length) return;
    try {
      const body = JSON.stringify({ [name]: [] });
      const answer = await fetch(address, { method: "POST", headers: headers(), body, redirect: "error" });
      if (!answer.ok || queue.waiting().length) return;
      said(await answer.json());
      say("Everything is saved.");
    } catch {
      say("You are offline; entries are kept on this device.");
    }
  }
  if (follows) {
    setInterval(ask, 20_000);
    addEventListener("online", ask);
  }
  if (follows || Date.now() - sentAt(address) < JUST_MS) queueMicrotask(ask);
  queueMicrotask(stands);
  return { ...queue, put: (entry) => queue.put(entry, label(entry)) };
}
