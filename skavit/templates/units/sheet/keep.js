// Keeps the last entry sheets and visits and what they are drawn with, so that a sheet once opened opens again without signal. What was
// not opened for a month, and more than the last thirty sheets, is let go.
"use strict";

const STORE = "skavit-sheets-1";
const MOST_SHEETS = 30;
const MOST_PARTS = 200;
const KEPT_MS = 30 * 24 * 3600 * 1000;
const SHEET = /^\/units\/\d+\/(sheet|visit)\/$/;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(Promise.all([self.clients.claim(), letGo()])));

self.addEventListener("fetch", (event) => {
  const { pathname } = new URL(event.request.url);
  if (event.request.method !== "GET") return;
  if (SHEET.test(pathname)) event.respondWith(newestOrKept(event.request));
  else if (pathname.startsWith("/static/")) event.respondWith(keptOrNew(event.request));
});

// A page that leads to the login is no sheet and is not kept, nor is one that is still being worked out (202).
const keepable = (answer) => answer.status === 200 && !answer.redirected;

async function newestOrKept(request) {
  const store = await caches.open(STORE);
  try {
    const answer = await fetch(request);
    if (keepable(answer)) {
      await store.put(request.url, answer.clone());
      await letGo();
    }
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

// The page that registers this worker was fetched before it: it sends what it was drawn with. A redirect leads to the login,
// whose cookie would shut out whoever is just logging in: it is not followed.
async function keepNow(urls) {
  const store = await caches.open(STORE);
  for (const url of urls) {
    const answer = await fetch(url, { redirect: "manual" });
    if (keepable(answer)) await store.put(url, answer);
  }
}

const isSheet = ({ request }) => SHEET.test(new URL(request.url).pathname);

// When a kept answer was made: by the server's own clock, which it says in every answer.
const madeAt = (answer) => Date.parse(answer.headers.get("Date") ?? "") || 0;

// Sheets beyond the newest ones, old ones, and the parts of releases that are long gone: they stand first in the store.
async function letGo() {
  const store = await caches.open(STORE);
  const kept = await Promise.all((await store.keys()).map(async (request) => ({ request, at: madeAt(await store.match(request)) })));
  const sheets = kept.filter(isSheet).sort((one, other) => other.at - one.at);
  const parts = kept.filter((part) => !isSheet(part));
  const gone = sheets.filter(({ at }, place) => place >= MOST_SHEETS || at < Date.now() - KEPT_MS);
  gone.push(...parts.slice(0, Math.max(parts.length - MOST_PARTS, 0)));
  await Promise.all(gone.map(({ request }) => store.delete(request)));
}
