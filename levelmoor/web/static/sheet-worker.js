// Keeps the last seen run sheet, readings, trials, settings card and preset card on the telephone, so that they open without a
// signal. Only these and the assets.
const shelf = "levelmoor-sheet-1";

function kept(url) {
  return url.origin === location.origin && (/\/(plan\/sheet|readings|trials|card)$/.test(url.pathname) || url.pathname.startsWith("/static/"));
}

// The page that brings the worker was fetched before there was one: it is put on the shelf with what it names.
async function keepOpenPages() {
  await self.clients.claim();
  const open = await caches.open(shelf);
  for (const client of await self.clients.matchAll({ type: "window" })) {
    const page = new URL(client.url);
    page.hash = "";
    if (!kept(page)) continue;
    await open.add(page.href);
    const text = await (await open.match(page.href)).text();
    await open.addAll([...new Set(text.match(/\/static\/[^"']+/g))]);
  }
}

self.addEventListener("activate", (event) => event.waitUntil(keepOpenPages()));
self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (url.pathname === "/sign-out") event.waitUntil(caches.delete(shelf));
  if (event.request.method !== "GET" || !kept(url)) return;
  event.respondWith(
    fetch(event.request)
      .then(async (answer) => {
        if (answer.ok && !answer.redirected) await (await caches.open(shelf)).put(event.request, answer.clone());
        return answer;
      })
      .catch(async () => (await caches.match(event.request)) ?? Response.error()),
  );
});
