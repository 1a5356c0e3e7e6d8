// The pages of an evaluation open without a signal once they were opened with one, or taken along.

navigator.serviceWorker?.register("/sheet-worker.js").catch(() => {});
// A page that came before there was a worker is handed to it.
navigator.serviceWorker?.ready.then(async ({ active }) => {
  const here = location.href.split("#")[0];
  if (!navigator.serviceWorker.controller || !(await caches.match(here))) active.postMessage({ take: [here] });
});

document.addEventListener("click", async (event) => {
  const along = event.target.closest?.("[data-take-along]");
  if (!along) return;
  const pages = JSON.parse(along.dataset.takeAlong).map((one) => new URL(one, location.href).href);
  const worker = await navigator.serviceWorker?.ready;
  if (!worker) return;
  along.disabled = true;
  along.textContent = "Taking along…";
  // Its own way back: the answer to what this page itself was taken for is another.
  const { port1, port2 } = new MessageChannel();
  port1.onmessage = ({ data }) => (along.textContent = `${data.taken} of ${pages.length} pages taken along`);
  worker.active.postMessage({ take: pages }, [port2]);
});
