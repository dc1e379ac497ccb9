// A large plan is worked out by the server's worker: what was asked is asked again until its answer is there.

import { one } from "./dom.js";

const WORKING = 202;
const AGAIN_MS = 700;
// By the element that asks: the answer that it waits for. Asked anew meanwhile, the earlier one is let go.
const awaited = new WeakMap();

function tell(html) {
  const line = one("[data-working]");
  line.innerHTML = html; // the server's own words
  line.hidden = !html;
}

function askAgain({ verb, path, elt, target }, secret) {
  if (awaited.get(elt) !== secret || !elt.isConnected) return;
  htmx.ajax(verb.toUpperCase(), path, { source: elt, target, headers: { "Skavit-Answer": secret } });
}

document.addEventListener("htmx:configRequest", ({ detail }) => {
  detail.headers["Skavit-Waits"] = "1";
  if (!detail.headers["Skavit-Answer"]) awaited.delete(detail.elt);
});
document.addEventListener("htmx:beforeSwap", ({ detail }) => {
  if (detail.xhr.status !== WORKING) return;
  detail.shouldSwap = false;
  const secret = detail.xhr.getResponseHeader("Skavit-Answer");
  const { requestConfig } = detail;
  awaited.set(requestConfig.elt, secret);
  tell(detail.xhr.responseText);
  setTimeout(() => askAgain(requestConfig, secret), AGAIN_MS);
});
document.addEventListener("htmx:afterRequest", ({ detail }) => {
  if (detail.xhr.status !== WORKING) tell("");
});
