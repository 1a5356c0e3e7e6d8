// Keeps the pages of an evaluation that were opened, or taken along, on this device, so that they open without a signal.
// Only these and the assets.
const shelf = "levelmoor-sheet-1";
const OF_EVALUATION = /^\/e\/\d+(\/|$)/;
const FOLDED = /^\/e\/\d+\/open\//; // what is fetched when it is unfolded
const FONT = "/static/fonts/source-sans-3-latin.woff2"; // which the styles name
const PART = { headers: { "HX-Request": "true" } };

function kept({ method, mode, url }) {
  const { origin, pathname } = new URL(url);
  if (method !== "GET" || origin !== location.origin) return false;
  return pathname.startsWith("/static/") || (mode === "navigate" ? OF_EVALUATION : FOLDED).test(pathname);
}
// A download from an evaluation is not one of its pages.
const isPage = (answer) => answer.ok && !answer.redirected && !answer.headers.get("Content-Disposition")?.startsWith("attachment");

// A busy server is asked again.
async function ask(address, options, tries = 3) {
  const answer = await fetch(address, options);
  if (answer.status !== 503 || !tries) return answer;
  await new Promise((on) => setTimeout(on, 1000));
  return ask(address, options, tries - 1);
}

// A script brings what it imports. What several pages need is fetched once; a page without one of its assets is not taken.
function takeAsset(open, address, taken) {
  if (!taken.has(address)) taken.set(address, bring(open, address, taken));
  return taken.get(address);
}
async function bring(open, address, taken) {
  const answer = await ask(address);
  if (!answer.ok) throw new Error(`${address}: ${answer.status}`);
  await open.put(address, answer.clone());
  if (!/\.js($|\?)/.test(address) || address.includes("htmx.min")) return;
  for (const [, name] of (await answer.text()).matchAll(/^(?:import|export) .*?"\.\/([\w-]+\.js)"/gm)) await takeAsset(open, `/static/${name}`, taken);
}

async function take(address, taken) {
  const open = await caches.open(shelf);
  if (!OF_EVALUATION.test(new URL(address).pathname)) return false;
  const answer = await ask(address, { redirect: "manual" });
  if (!isPage(answer)) return false;
  const text = await answer.clone().text();
  await Promise.all([...new Set([...text.match(/\/static\/[^"']+/g), FONT])].map((one) => takeAsset(open, one, taken)));
  for (const [, folded] of text.matchAll(/data-from="([^"]+)"/g)) {
    const part = await ask(folded, PART);
    if (part.ok) await open.put(folded, part);
  }
  await open.put(address, answer);
  return true;
}

self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
self.addEventListener("message", (event) => {
  const taken = new Map(); // address of an asset -> its coming
  event.waitUntil(
    Promise.allSettled([self.clients.claim(), ...event.data.take.map((one) => take(one, taken))]).then((all) => {
      event.ports[0]?.postMessage({ taken: all.filter((one) => one.value === true).length });
    }),
  );
});
self.addEventListener("fetch", (event) => {
  const { pathname } = new URL(event.request.url);
  if (pathname === "/sign-out") event.waitUntil(caches.delete(shelf));
  if (!kept(event.request)) return;
  event.respondWith(
    fetch(event.request)
      .then(async (answer) => {
        if (isPage(answer)) await (await caches.open(shelf)).put(event.request, answer.clone());
        return answer;
      })
      .catch(async () => (await caches.match(event.request, { ignoreSearch: OF_EVALUATION.test(pathname), ignoreVary: true })) ?? Response.error()),
  );
});
