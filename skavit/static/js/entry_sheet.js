// The entry sheet: one step at a time.

import { all, one } from "./dom.js";
import { keepPage, keepSheets } from "./sheet/kept.js";
import { followTheHours } from "./sheet/spells.js";
import { keepSending } from "./outbox/sending.js";
import { forgetRefused, keepTick, sendTicks, waitingTicks } from "./outbox/ticks.js";
import { showTick, tellTicks } from "./sheet/ticks.js";

const sheet = one("[data-sheet]");
const flush = sheet && keepSending([sendAll], tell);
let pressing = 0; // ticks on their way into the outbox

async function sendAll() {
  const any = (await waitingTicks()).some((tick) => !tick.refused);
  const trouble = await sendTicks();
  if (any && !trouble) keepPage([]);
  return trouble;
}

async function tell(trouble) {
  await tellTicks(sheet, trouble);
  if (pressing) sheet.dataset.unsent = pressing;
}

// Keeps and sends a step that was pressed; gives whether it is done now.
function press(form) {
  const done = form.elements.done.value === "1";
  showTick(form.elements.key.value, done);
  pressing += 1;
  sheet.dataset.unsent = pressing;
  keepTick(form.elements.key.value, done, one("h2", form.closest("[data-step]")).textContent).then(() => {
    pressing -= 1;
    return flush();
  });
  return done;
}

function keying(root) {
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
    // A page loaded again, with or without signal, opens where it was.
    history.replaceState(history.state, "", `#step-${target}`);
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
  for (const form of all("[data-tick-form]", root)) {
    form.addEventListener("submit", (event) => {
      event.preventDefault();
      if (press(form)) move(1);
    });
  }
  waitingTicks().then((ticks) => {
    for (const { key, done } of ticks) showTick(key, done);
    flush();
  });
  followTheHours(root);
  show(Number(location.hash.replace("#step-", "")) || Number(root.dataset.open));
  // Once it is loaded a browser goes to the step that the address names, which cuts off the head of the sheet.
  addEventListener("load", () => requestAnimationFrame(() => scrollTo(0, 0)));
}

if (sheet) {
  keying(sheet);
  keepSheets();
  one("[data-conflicts-seen]")?.addEventListener("click", () => {
    forgetRefused().then(() => location.reload());
  });
}
