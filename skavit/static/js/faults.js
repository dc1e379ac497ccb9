// What the server refuses it says as plain words; the page stays as it is, with what was typed.

import { one } from "./dom.js";

const NO_ANSWER = "The server did not answer. What you typed still stands here; try again.";
const SHOWN_ON_THE_PAGE = new Set([409, 422]);

function tellFault(words) {
  const line = one("[data-fault]");
  line.textContent = words;
  line.hidden = !words;
}

// What to say of an answer; empty where the page itself says it.
export function faultOf(status, plainWords) {
  if (status < 400) return "";
  if (plainWords !== null) return plainWords;
  return SHOWN_ON_THE_PAGE.has(status) ? "" : NO_ANSWER;
}

// Whether an element can be seen without scrolling.
function inView(element) {
  const { top, bottom } = element.getBoundingClientRect();
  return bottom > 0 && top < innerHeight;
}

// Why an edit was refused stands above the year sheet: whoever is further down is told here.
document.addEventListener("htmx:afterSettle", ({ detail: { xhr } }) => {
  const said = xhr?.status >= 400 && one(".said-warning, .said-error");
  if (said && !inView(said)) tellFault(said.textContent);
});
// What was told stands until somebody tries again: a preview, or a form that is fetched by itself, is no try.
document.addEventListener("htmx:beforeRequest", ({ detail: { elt } }) => {
  if (!elt.matches(".preview, .lazy a")) tellFault("");
});
for (const name of ["htmx:sendError", "htmx:timeout"]) document.addEventListener(name, () => tellFault(NO_ANSWER));
document.addEventListener("htmx:afterRequest", ({ detail: { xhr } }) => {
  const plain = xhr.getResponseHeader("Content-Type")?.startsWith("text/plain");
  const words = faultOf(xhr.status, plain ? xhr.responseText : null);
  if (words) tellFault(words);
});
