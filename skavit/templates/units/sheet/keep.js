// Keeps the last entry sheets and what they are drawn with, so that a sheet once opened opens again without signal.
"use strict";

const STORE = "skavit-sheets-1";
const SHEET = /^\/units\/\d+\/sheet\/$/;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { pathname } = new URL(event.request.url);
  if (event.request.method !== "GET") return;
  if (SHEET.test(pathname)) event.respondWith(newestOrKept(event.request));
  else if (pathname.startsWith("/static/")) event.respondWith(keptOrNew(event.request));
});

// A page that leads to the login is no sheet and is not kept.
const keepable = (answer) => answer.ok && !answer.redirected;

async function newestOrKept(request) {
  const store = await caches.open(STORE);
  try {
    const answer = await fetch(request);
    if (keepable(answer)) await store.put(request.url, answer.clone());
    return answer;
  } catch (error) {
    const kept = await store.match(request.url);
    if (kept) return kept;
    throw error;
  }
}

async function keptOrNew(request) {
  const store = await caches.open(STORE);
  const kept = await store.match(request.url);
  if (kept) return kept;
  const answer = await fetch(request);
  if (keepable(answer)) await store.put(request.url, answer.clone());
  return answer;
}

self.addEventListener("message", (event) => {
  if (event.data === "forget") event.waitUntil(caches.delete(STORE));
  if (Array.isArray(event.data)) event.waitUntil(keepNow(event.data).then(() => event.source.postMessage("kept")));
});

// The page that registers this worker was fetched before it: it sends what it was drawn with.
async function keepNow(urls) {
  const store = await caches.open(STORE);
  for (const url of urls) {
    const answer = await fetch(url);
    if (keepable(answer)) await store.put(url, answer);
  }
}
