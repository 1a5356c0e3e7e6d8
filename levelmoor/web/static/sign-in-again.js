// A sign-in that has ended while somebody works: signed in in place, then what was done is sent.

let dialog = null;
const waiting = []; // what is sent once somebody is signed in

function ask(send) {
  if (send) waiting.push(send);
  if (dialog) return;
  document.body.append(document.getElementById("again").content.cloneNode(true));
  dialog = document.querySelector("body > dialog");
  dialog.addEventListener("submit", signIn);
  dialog.addEventListener("close", () => {
    dialog.remove();
    dialog = null;
  });
  dialog.showModal();
}
document.addEventListener("signedout", (event) => ask(event.detail));
document.addEventListener("htmx:responseError", ({ detail: { xhr, requestConfig } }) => {
  if (xhr.status === 401 && requestConfig.verb === "get") ask(() => document.dispatchEvent(new Event("redraw")));
});

async function signIn(event) {
  event.preventDefault();
  const said = document.getElementById("again-said");
  const [email, password, code] = ["again-email", "again-password", "again-code"].map((id) => document.getElementById(id));
  const headers = { Accept: "application/json", ...JSON.parse(document.body.getAttribute("hx-headers")) };
  const body = new URLSearchParams({ email: email.value, password: password.value, code: code.value });
  try {
    const answer = await fetch(event.submitter.dataset.signIn, { method: "POST", headers, body });
    const told = await answer.json();
    if (!answer.ok) {
      said.textContent = told.problem;
      if (told.asks === "code") {
        document.getElementById("again-second").hidden = false;
        code.focus();
      }
      return;
    }
    document.body.setAttribute("hx-headers", JSON.stringify({ "X-CSRFToken": told.csrf }));
    for (const field of document.querySelectorAll("[name=csrf_token]")) field.value = told.csrf;
    dialog.close();
    for (const send of waiting.splice(0)) await send();
  } catch {
    said.textContent = "The server does not answer; try again.";
  }
}
