// What is entered in the field: kept on this device at once, sent as soon as there is a signal, kept once by the server.

import "./without-signal.js";

export function ident() {
  return crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2, 14)}`;
}

// `name` is what the entries are called on their way, `key` where they wait, `said` what is done with the answer that
// kept them; with `asks` the server is asked also where nothing waits, for what others entered.
export function fieldQueue({ key, address, name, most, said, changed = () => {}, asks = false }) {
  const signal = document.getElementById("signal");
  const headers = () => ({ "Content-Type": "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) });
  let sending = false;

  function waiting() {
    try {
      return JSON.parse(localStorage.getItem(key) ?? "[]");
    } catch {
      return [];
    }
  }

  function keep(entries) {
    localStorage.setItem(key, JSON.stringify(entries));
    changed();
  }

  function say(words, wrong = false) {
    signal.textContent = words;
    signal.className = wrong ? "wrong" : "quiet";
  }

  function sayWaiting(count) {
    if (count) say(`${count} ${count === 1 ? "entry waits" : "entries wait"} to be sent; nothing is lost.`);
  }

  async function send() {
    const entries = waiting();
    if (sending || !(entries.length || asks)) return;
    sending = true;
    sayWaiting(entries.length);
    try {
      const body = JSON.stringify({ [name]: entries.slice(0, most) });
      const answer = await fetch(address, { method: "POST", headers: headers(), body, redirect: "error" });
      if (answer.status === 401) {
        say("You are signed out; entries are kept on this device and are sent once you sign in.", true);
        document.dispatchEvent(new CustomEvent("signedout", { detail: send }));
        return;
      }
      const told = await answer.json();
      if (!answer.ok) {
        say(told.problem ?? "The server rejected an entry; it is still here.", true);
        return;
      }
      const kept = new Set(told.kept);
      keep(waiting().filter((entry) => !kept.has(entry.id)));
      said(told);
      if (waiting().length) setTimeout(send, 3000);
      else if (Object.keys(told.refused ?? {}).length) say("Not everything was accepted; see below.", true);
      else say("Everything is saved.");
    } catch {
      if (entries.length) sayWaiting(waiting().length);
      else say("You are offline; entries are kept on this device.");
    } finally {
      sending = false;
    }
  }

  addEventListener("online", send);
  setInterval(send, 20_000);
  changed();
  send();
  return {
    waiting,
    takeBack(id) {
      keep(waiting().filter((entry) => entry.id !== id));
    },
    put(entry) {
      keep([...waiting(), entry]);
      send();
    },
  };
}
