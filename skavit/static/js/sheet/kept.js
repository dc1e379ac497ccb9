// The page of an opened sheet or visit, kept by the worker for places without signal.

import { one } from "../dom.js";

const STORE = "skavit-sheets-1";
const root = () => one("[data-sheet], [data-visit]");

// The worker keeps the page as the server has it now, and what it is drawn with.
export function keepPage(drawn) {
  navigator.serviceWorker?.ready.then(({ active }) => {
    root().dataset.kept = "0";
    // A visit keeps the entry sheet beside it.
    const also = root().dataset.also ? [new URL(root().dataset.also, location.href).href] : [];
    active.postMessage([location.href.split("#")[0], ...also, ...drawn]);
  });
}

export function keepSheets() {
  if (!("serviceWorker" in navigator)) return;
  navigator.serviceWorker.addEventListener("message", ({ data }) => {
    if (data === "kept") root().dataset.kept = "1";
  });
  navigator.serviceWorker.register("/units/keep.js", { scope: "/units/" })
    .then(() => {
      const drawn = performance.getEntriesByType("resource").map((entry) => entry.name);
      keepPage(drawn.filter((url) => url.includes("/static/")));
    })
    .catch((error) => console.warn("The sheet will not open again without a connection.", error));
}

export function forgetSheets() {
  if (!("caches" in window)) return;
  caches.delete(STORE).catch((error) => console.warn("Kept sheets could not be forgotten.", error));
}
