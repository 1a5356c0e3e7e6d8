// The pages carried out of doors open without a signal once they were opened with one.

navigator.serviceWorker?.register("/sheet-worker.js").catch(() => {});
