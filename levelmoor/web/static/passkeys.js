// Passkeys: signing in by one, and adding one on the account's page. What browser and server tell each other about a key
// goes through unread.

const part = document.getElementById("passkey");
const said = document.getElementById("passkey-said");
const WORDS = {
  NotAllowedError: "No passkey was chosen.",
  InvalidStateError: "This device already has a passkey for your account.",
  TypeError: "The server does not answer; try again.",
};

async function send(address, body, type) {
  const headers = { Accept: "application/json", "X-CSRFToken": part.dataset.token, ...type };
  const answer = await fetch(address, { method: "POST", headers, body });
  const told = await answer.json();
  if (!answer.ok) throw new Error(told.problem);
  return told;
}
const sendKey = (address, key) => send(address, JSON.stringify(key), { "Content-Type": "application/json" });

async function enter() {
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(await send(part.dataset.ask));
  return sendKey(part.dataset.answer, await navigator.credentials.get({ publicKey }));
}

async function add() {
  const asked = await send(part.dataset.ask, new URLSearchParams(new FormData(part)));
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(asked);
  const name = new URLSearchParams({ name: part.elements.name.value });
  return sendKey(`${part.dataset.answer}?${name}`, await navigator.credentials.create({ publicKey }));
}

// Browsers have passkeys only where nobody on the way can read along.
if (window.PublicKeyCredential?.parseRequestOptionsFromJSON && part) {
  const [event, steps] = part.tagName === "FORM" ? ["submit", add] : ["click", enter];
  part.closest("[hidden]").hidden = false;
  part.addEventListener(event, async (happened) => {
    happened.preventDefault();
    said.textContent = "";
    try {
      location.assign((await steps()).to);
    } catch (problem) {
      said.textContent = WORDS[problem.name] ?? problem.message;
    }
  });
}
