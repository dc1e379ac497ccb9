// The entry sheet: one step at a time.

import { all, one } from "./dom.js";
import { keepSheets } from "./sheet/kept.js";
import { followTheHours } from "./sheet/spells.js";
import { flush, forgetConflicts, queue, showTick, tick } from "./sheet/ticks.js";

const RETRY_MS = 15000;

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
      if (tick(event)) move(1);
    });
  }
  for (const [key, kept] of Object.entries(queue())) showTick(key, kept.done);
  followTheHours(root);
  addEventListener("online", flush);
  setInterval(flush, RETRY_MS);
  flush();
  show(Number(location.hash.replace("#step-", "")) || Number(root.dataset.open));
  // Once it is loaded a browser goes to the step that the address names, which cuts off the head of the sheet.
  addEventListener("load", () => requestAnimationFrame(() => scrollTo(0, 0)));
}

const sheet = one("[data-sheet]");
if (sheet) {
  keying(sheet);
  keepSheets();
  one("[data-conflicts-seen]")?.addEventListener("click", () => {
    forgetConflicts();
    location.reload();
  });
}
