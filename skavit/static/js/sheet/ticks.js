// Ticks that are kept in the browser until the server has them.

import { all, one } from "../dom.js";
import { keepPage } from "./kept.js";

// Of a sheet, or of a visit that sends what the sheet has kept.
const root = () => one("[data-sheet], [data-visit]");
const WHY = {
  signal: "No connection.",
  login: "Load this page again, and log in if asked.",
  server: "The server did not take it.",
};

// Each person's ticks wait for that person: whoever logs in after them neither sees nor sends them.
const place = () => `skavit-ticks-${root().dataset.person}-${root().dataset.tick}`;

export function queue() {
  try {
    return JSON.parse(localStorage.getItem(place()) ?? "{}");
  } catch (error) {
    console.warn("The ticks kept here could not be read.", error);
    return {};
  }
}

function keep(ticks) {
  try {
    localStorage.setItem(place(), JSON.stringify(ticks));
  } catch (error) {
    console.warn("This browser keeps nothing: ticks need a connection.", error);
  }
}

// A step that says another thing by the hour may be the same one to tick.
const formsOf = (key) => all("[data-tick-form]").filter((form) => form.elements.key.value === key);

export function showTick(key, done) {
  for (const form of formsOf(key)) {
    one("button", form).setAttribute("aria-pressed", String(done));
    form.elements.done.value = done ? "0" : "1";
    if (form.closest("[hidden]")) continue;
    for (const bit of all(`[data-bit="${form.elements.number.value}"]`)) bit.classList.toggle("bit-done", done);
  }
}

// Keeps and sends a tick that was pressed; gives whether the step is done now.
export function tick(event) {
  event.preventDefault();
  const form = event.target;
  const key = form.elements.key.value;
  const done = form.elements.done.value === "1";
  const title = one("h2", form.closest("[data-step]")).textContent;
  keep({ ...queue(), [key]: { done, title, said: Date.now(), proof: root().dataset.proof ?? "" } });
  showTick(key, done);
  root().dataset.unsent = "1";
  flush();
  return done;
}

const MOST_AT_ONCE = 500;

function packed(ticks) {
  const body = new FormData();
  body.set("csrfmiddlewaretoken", one("[name=csrfmiddlewaretoken]", root()).value);
  body.set("person", root().dataset.person);
  for (const [key, { done, said }] of ticks) {
    body.append("key", key);
    body.append("done", done ? "1" : "0");
    body.append("said", said ?? "");
  }
  for (const proof of new Set(ticks.map(([, kept]) => kept.proof))) if (proof) body.append("proof", proof);
  return body;
}

// Sends what is kept, all at once; gives what stood in the way, if anything, and how many were sent.
export async function sendTicks() {
  const ticks = Object.entries(queue()).filter(([, kept]) => !kept.refused).slice(0, MOST_AT_ONCE);
  if (!ticks.length) return { trouble: "", sent: 0 };
  let answer;
  try {
    answer = await fetch(root().dataset.tick, { method: "POST", body: packed(ticks), headers: { "HX-Request": "true" }, redirect: "manual" });
  } catch {
    return { trouble: "signal", sent: 0 };
  }
  if (!answer.ok) return { trouble: answer.type === "opaqueredirect" || answer.status === 403 ? "login" : "server", sent: 0 };
  const { gone } = await answer.json();
  const now = queue();
  for (const [key, kept] of ticks) {
    // Turned again while it was under way: the newer state is sent at the next round.
    if (now[key]?.said !== kept.said) continue;
    if (gone[key]) now[key] = { ...kept, refused: gone[key] };
    else delete now[key];
  }
  keep(now);
  return { trouble: "", sent: ticks.length - Object.keys(gone).length };
}

let sending = false;

export async function flush() {
  if (sending) return;
  sending = true;
  const { trouble, sent } = await sendTicks();
  sending = false;
  if (sent) keepPage([]);
  tell(trouble);
  if (!trouble && root().dataset.unsent !== "0") flush();
}

// What the sheet says of ticks that wait.
export const waitingText = (waiting, trouble) =>
  trouble ? `${WHY[trouble]} ${waiting} tick${waiting === 1 ? "" : "s"} kept here, sent when it can be.` : "";

function tell(trouble) {
  const ticks = Object.values(queue());
  const waiting = ticks.filter((kept) => !kept.refused).length;
  root().dataset.unsent = waiting;
  const note = one("[data-waiting]");
  note.hidden = !waiting || !trouble;
  note.textContent = waitingText(waiting, trouble);
  const conflicts = Object.entries(queue()).filter(([, kept]) => kept.refused);
  const box = one("[data-conflicts]");
  box.hidden = !conflicts.length;
  one("ul", box).replaceChildren(...conflicts.map(([, kept]) => {
    const line = document.createElement("li");
    line.textContent = `${kept.title}: ${kept.refused}`;
    return line;
  }));
}

export function forgetConflicts() {
  keep(Object.fromEntries(Object.entries(queue()).filter(([, kept]) => !kept.refused)));
}
