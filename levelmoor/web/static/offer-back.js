// A line that says what was removed and offers it back, for as long as the page is open.

const REMOVALS_SHOWN = 3;

export function offerBack(words, act = () => {}) {
  const lines = document.getElementById("removed");
  const line = document.createElement("p");
  line.className = "said ask";
  const undo = document.createElement("button");
  undo.textContent = "Undo";
  undo.addEventListener("click", () => {
    act();
    if (!undo.hasAttribute("hx-post")) line.remove();
  });
  undo.addEventListener("htmx:afterRequest", (event) => event.detail.successful && line.remove());
  const close = document.createElement("button");
  close.className = "plain";
  close.textContent = "✕";
  close.setAttribute("aria-label", "Close this message");
  close.addEventListener("click", () => line.remove());
  line.append(words, " ", undo, " ", close);
  lines.append(line);
  while (lines.children.length > REMOVALS_SHOWN) lines.firstElementChild.remove();
  return undo;
}
