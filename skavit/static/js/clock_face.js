// The display of the clock step goes on with the site's time: what it read when the page was made would soon be wrong.

import { all, one } from "./dom.js";

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

export function runClock() {
  const display = one("[data-clock]");
  if (!display) return;
  const start = Number(display.dataset.clock) * 1000 - Date.now();
  const twelve = display.dataset.twelve === "1";
  const day = new Date(start + Date.now()).getUTCDate();
  setInterval(() => {
    const now = new Date(start + Date.now());
    if (now.getUTCDate() !== day) location.reload();
    const face = faceOf(now, twelve);
    display.textContent = face.clock;
    for (const part of all("[data-clock-minute]")) part.textContent = face.minute;
    for (const part of all("[data-clock-hour]")) part.textContent = face.hour;
  }, 1000);
}
