// The entry sheet: one step at a time, and ticks that are kept in the browser until the server has them.
"use strict";

const RETRY_MS = 15000;
const sheetRoot = () => one("[data-sheet]");

function keying() {
  const root = one("[data-sheet]");
  if (!root) return;
  const steps = all("[data-step]", root);
  root.classList.add("one-at-a-time");
  const show = (number) => {
    const target = Math.min(Math.max(number, 1), steps.length);
    root.dataset.open = target;
    for (const step of steps) step.classList.toggle("step-now", Number(step.dataset.step) === target);
    for (const link of all("[data-step-go]", root)) {
      link.toggleAttribute("aria-current", Number(link.dataset.stepGo) === target);
    }
    one("[data-step-now]", root).textContent = target;
    const next = steps[target];
    one("[data-step-next]", root).textContent = next ? `Next: ${one("h2", next).textContent}` : "All steps done";
    one("[data-step-next]", root).disabled = !next;
    one("[data-step-back]", root).disabled = target === 1;
    scrollTo(0, 0);
  };
  const move = (by) => show(Number(root.dataset.open) + by);
  one("[data-step-next]", root).addEventListener("click", () => move(1));
  one("[data-step-back]", root).addEventListener("click", () => move(-1));
  for (const link of all("[data-step-go]", root)) {
    link.addEventListener("click", (event) => {
      event.preventDefault();
      show(Number(link.dataset.stepGo));
    });
  }
  addEventListener("keydown", (event) => {
    if (event.key === "ArrowRight") move(1);
    if (event.key === "ArrowLeft") move(-1);
  });
  let from = null;
  root.addEventListener("touchstart", (event) => { from = event.changedTouches[0].clientX; }, { passive: true });
  root.addEventListener("touchend", (event) => {
    const by = event.changedTouches[0].clientX - from;
    if (Math.abs(by) > 80) move(by < 0 ? 1 : -1);
  }, { passive: true });
  for (const form of all("[data-tick-form]", root)) form.addEventListener("submit", tick);
  for (const [key, kept] of Object.entries(queue())) showTick(key, kept.done);
  addEventListener("online", flush);
  setInterval(flush, RETRY_MS);
  flush();
  one("[data-print]", root).addEventListener("click", () => print());
  show(Number(location.hash.replace("#step-", "")) || Number(root.dataset.open));
}

// ------------------------------------------------------------------------------------------------------ ticks

// Each person's ticks wait for that person: whoever logs in after them neither sees nor sends them.
const place = () => `skavit-ticks-${sheetRoot().dataset.person}-${sheetRoot().dataset.tick}`;

function queue() {
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

const formOf = (key) => all("[data-tick-form]").find((form) => form.elements.key.value === key);

function showTick(key, done) {
  const form = formOf(key);
  if (!form) return;
  one("button", form).setAttribute("aria-pressed", String(done));
  form.elements.done.value = done ? "0" : "1";
  for (const bit of all(`[data-bit="${form.elements.number.value}"]`)) bit.classList.toggle("bit-done", done);
}

function tick(event) {
  event.preventDefault();
  const form = event.target;
  const key = form.elements.key.value;
  const done = form.elements.done.value === "1";
  const title = one("h2", form.closest("[data-step]")).textContent;
  keep({ ...queue(), [key]: { done, title, said: Date.now() } });
  showTick(key, done);
  sheetRoot().dataset.unsent = "1";
  flush();
}

let sending = false;

async function flush() {
  if (sending) return;
  sending = true;
  let trouble = "";
  let sent = 0;
  for (const [key, { done, title, said, refused }] of Object.entries(queue())) {
    if (refused) continue;
    const body = new FormData();
    body.set("csrfmiddlewaretoken", one("[data-tick-form]").elements.csrfmiddlewaretoken.value);
    body.set("key", key);
    body.set("done", done ? "1" : "0");
    body.set("said", said ?? "");
    body.set("person", sheetRoot().dataset.person);
    let answer;
    try {
      answer = await fetch(sheetRoot().dataset.tick, { method: "POST", body, headers: { "HX-Request": "true" }, redirect: "manual" });
    } catch {
      trouble = "signal";
      break;
    }
    const now = queue();
    // Turned again while it was under way: the newer state is sent at the next round.
    if (now[key]?.said !== said) continue;
    if (answer.ok) {
      delete now[key];
      sent += 1;
    } else if (answer.status === 409) now[key] = { done, title, said, refused: await answer.text() };
    else trouble = answer.type === "opaqueredirect" || answer.status === 403 ? "login" : "server";
    keep(now);
    if (trouble) break;
  }
  sending = false;
  if (sent) keepPage([]);
  tell(trouble);
  if (!trouble && sheetRoot().dataset.unsent !== "0") flush();
}

function tell(trouble) {
  const ticks = Object.values(queue());
  const waiting = ticks.filter((kept) => !kept.refused).length;
  sheetRoot().dataset.unsent = waiting;
  const note = one("[data-waiting]");
  note.hidden = !waiting || !trouble;
  const why = { signal: "No connection.", login: "Load this page again, and log in if asked.", server: "The server did not take it." }[trouble];
  note.textContent = `${why} ${waiting} tick${waiting === 1 ? "" : "s"} kept here, sent when it can be.`;
  const conflicts = Object.entries(queue()).filter(([, kept]) => kept.refused);
  const box = one("[data-conflicts]");
  box.hidden = !conflicts.length;
  one("ul", box).replaceChildren(...conflicts.map(([, kept]) => {
    const line = document.createElement("li");
    line.textContent = `${kept.title}: ${kept.refused}`;
    return line;
  }));
}

one("[data-conflicts-seen]")?.addEventListener("click", () => {
  keep(Object.fromEntries(Object.entries(queue()).filter(([, kept]) => !kept.refused)));
  location.reload();
});

// The worker keeps the page as the server has it now, and what it is drawn with.
function keepPage(drawn) {
  navigator.serviceWorker?.ready.then(({ active }) => {
    sheetRoot().dataset.kept = "0";
    active.postMessage([location.href.split("#")[0], ...drawn]);
  });
}

if (sheetRoot()) {
  keying();
  if ("serviceWorker" in navigator) {
    navigator.serviceWorker.addEventListener("message", ({ data }) => {
      if (data === "kept") sheetRoot().dataset.kept = "1";
    });
    navigator.serviceWorker.register("/units/keep.js", { scope: "/units/" })
      .then(() => {
        const drawn = performance.getEntriesByType("resource").map((entry) => entry.name);
        keepPage(drawn.filter((url) => url.includes("/static/")));
      })
      .catch((error) => console.warn("The sheet will not open again without a connection.", error));
  }
}
