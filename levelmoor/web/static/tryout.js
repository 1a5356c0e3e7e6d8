// What was tried without an account goes along: the claim and the file stay on this device until a team keeps them.

import { openDB } from "./idb.js";

const open = () => openDB("levelmoor-tried", 1, { upgrade: (made) => made.createObjectStore("one") });

async function sampleOf(form) {
  const answer = await fetch(`${form.getAttribute("action")}/sample`);
  const name = /filename="?([^";]+)/.exec(answer.headers.get("Content-Disposition") ?? "")?.[1] ?? "sample.s1p";
  return new File([await answer.blob()], name);
}

document.addEventListener("click", async (event) => {
  const keep = event.target.closest?.("[data-keep-try]");
  const sample = event.target.closest?.("[data-try-sample]");
  const form = document.getElementById("try");
  if (sample) {
    form.elements.claim.value ||= sample.dataset.trySample;
    form.dataset.sample = "yes";
  } else if (event.target.closest?.("#try .primary")) delete form.dataset.sample;
  if (!keep) return;
  const file = form.dataset.sample ? await sampleOf(form) : form.elements.file.files[0];
  const { claim, calibrated } = form.elements;
  await (await open()).put("one", { claim: claim.value, calibrated: calibrated.value, name: file?.name ?? "", file }, "tried");
  location.href = keep.dataset.keepTry ? `${keep.dataset.keepTry}?next=${keep.dataset.then}` : keep.dataset.then;
});

// On the list of evaluations the line for a new one is filled in with it; opened once, it is forgotten here.
async function carryOn(form) {
  const shelf = await open();
  const tried = await shelf.get("one", "tried");
  if (!tried) return;
  form.closest("details").open = true;
  form.elements.claim.value = tried.claim;
  form.elements.calibration.value = tried.calibrated === "yes" ? "at_plane" : "";
  if (tried.file) {
    const files = new DataTransfer();
    files.items.add(new File([tried.file], tried.name));
    form.elements.files.files = files.files;
  }
  form.querySelector("[data-tried]").hidden = false;
  form.elements.product.focus();
  form.addEventListener("submit", () => shelf.delete("one", "tried"));
}
const form = document.querySelector("form.open");
if (form) carryOn(form);
