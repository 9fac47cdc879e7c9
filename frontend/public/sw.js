/*
 * Lets pages open without a connection, so that a round of readings can be gone on with at the enclosure. Scripts,
 * styles and fonts carry a hash in their names and never change; a page is fetched anew whenever it can be.
 * Answers of the interface are never kept here.
 */
const SHELF = "noonshade-1";
const PAGE = "/";
const MOST_KEPT = 60;

self.addEventListener("install", (event) => {
  // What is asked of the interface does not come by here, where the browser knows how: that saves time.
  event.addRoutes?.({ condition: { urlPattern: { pathname: "/api/*" } }, source: "network" });
  event.waitUntil(
    (async () => {
      const shelf = await caches.open(SHELF);
      await shelf.add(new Request(PAGE, { cache: "reload" }));
      await self.skipWaiting();
    })(),
  );
});

self.addEventListener("activate", (event) => {
  event.waitUntil(
    (async () => {
      for (const name of await caches.keys()) if (name !== SHELF) await caches.delete(name);
      await self.clients.claim();
    })(),
  );
});

async function page(request) {
  const shelf = await caches.open(SHELF);
  try {
    const answer = await fetch(request);
    if (answer.ok && answer.headers.get("content-type")?.startsWith("text/html")) {
      await shelf.put(PAGE, answer.clone());
    }
    return answer;
  } catch (error) {
    const kept = await shelf.match(PAGE);
    if (kept) return kept;
    throw error;
  }
}

async function asset(request) {
  const shelf = await caches.open(SHELF);
  const kept = await shelf.match(request);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) {
    await shelf.put(request, answer.clone());
    // Files of older versions are of no use any more.
    const names = await shelf.keys();
    const old = names.slice(0, Math.max(0, names.length - MOST_KEPT));
    for (const name of old) if (new URL(name.url).pathname !== PAGE) await shelf.delete(name);
  }
  return answer;
}

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (url.pathname.startsWith("/assets/")) event.respondWith(asset(request));
  else if (request.mode === "navigate" && !url.pathname.startsWith("/api/")) {
    event.respondWith(page(request));
  }
});
