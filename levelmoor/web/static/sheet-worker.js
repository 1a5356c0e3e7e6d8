// Keeps the last seen run sheet on the telephone, so that it opens without a signal. Only run sheets and assets.
const shelf = "levelmoor-sheet-1";

function kept(url) {
  return url.origin === location.origin && (/\/plan\/sheet$/.test(url.pathname) || url.pathname.startsWith("/static/"));
}

self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));
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
