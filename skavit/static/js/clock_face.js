// A clock on the page goes on with the time: what it read when the page was made would soon be wrong.

import { all } from "./dom.js";
import { askTime, seconds } from "./time.js";

const two = (number) => String(number).padStart(2, "0");

// What a clock of 12 or 24 hours shows of a time whose digits are those of UTC.
export function faceOf(time, twelve) {
  const hour = time.getUTCHours();
  const minute = two(time.getUTCMinutes());
  if (!twelve) return { clock: `${two(hour)}:${minute}`, hour: two(hour), minute };
  const half = hour < 12 ? "am" : "pm";
  const twelfth = ((hour + 11) % 12) + 1;
  return { clock: `${twelfth}:${minute} ${half}`, hour: `${twelfth} ${half.toUpperCase()}`, minute };
}

// The digits of a clock at an instant; `runs` are (instant, digits) from which it runs on, rising: it may be moved on the way.
export function digitsAt(runs, instant) {
  const [from, digits] = runs.findLast(([first]) => first <= instant) ?? runs[0];
  return digits + instant - from;
}

function show(display) {
  const time = new Date(digitsAt(JSON.parse(display.dataset.clock), seconds()) * 1000);
  const face = faceOf(time, display.dataset.twelve === "1");
  display.textContent = face.clock;
  const step = display.closest("[data-step]");
  if (!step) return;
  for (const part of all("[data-clock-minute]", step)) part.textContent = face.minute;
  for (const part of all("[data-clock-hour]", step)) part.textContent = face.hour;
}

const showAll = () => all("[data-clock]").forEach(show);

export function runClock() {
  if (!all("[data-clock]").length) return;
  showAll();
  askTime().then(showAll);
  setInterval(showAll, 1000);
}
