/** Pages that were opened once open again without a connection, where the browser allows it. */
export function stayOpenOffline(): void {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  navigator.serviceWorker.register("/sw.js").then(
    async () => {
      // What this page has loaded before the worker was there is fetched through it once.
      await navigator.serviceWorker.ready;
      const loaded = performance.getEntriesByType("resource").map((entry) => entry.name);
      for (const name of loaded.filter((n) => n.startsWith(`${location.origin}/assets/`))) {
        await fetch(name).catch(() => undefined);
      }
    },
    // Without a worker everything works but opening a page offline.
    () => undefined,
  );
}
