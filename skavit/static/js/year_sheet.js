// The year sheet's cursor: by click, by finger, by key; the night that it stands on is read out beside it.
/* global htmx */

import { all, one } from "./dom.js";

const DAY_MS = 86400000;
export const sheet = () => one("[data-year-picture]");
let asking = 0;

export function column() {
  return Number(sheet().dataset.column);
}

export function moveTo(wanted) {
  const picture = sheet();
  if (!picture) return;
  const count = Number(picture.dataset.count);
  const target = Math.min(Math.max(wanted, 0), count - 1);
  const first = Number(picture.dataset.day) - column();
  picture.dataset.column = target;
  picture.dataset.day = first + target;
  for (const svg of all("svg.year-sheet", picture)) {
    const away = (target * Number(svg.dataset.perDay)).toFixed(1);
    const shift = svg.dataset.turned === "1" ? `translate(0 ${away})` : `translate(${away} 0)`;
    one(".cursor", svg).setAttribute("transform", shift);
  }
  for (const field of all("[data-day-field]")) field.value = first + target;
  clearTimeout(asking);
  asking = setTimeout(readOut, 60);
}

function readOut() {
  const picture = sheet();
  const work = one("#unit-work");
  const query = new URLSearchParams({
    year: picture.dataset.year,
    channel: picture.dataset.channel,
    day: picture.dataset.day,
  });
  history.replaceState(null, "", `${location.pathname}?${query}`);
  htmx.ajax("GET", `${work.dataset.night}?${query}`, { target: "#night", swap: "outerHTML", source: "#year" });
}

// How many days on the same day of the month before (-1) or after (1) lies; days are counted from 1970.
export function monthAway(day, direction) {
  const here = new Date(day * DAY_MS);
  const there = new Date(here);
  there.setUTCMonth(here.getUTCMonth() + direction);
  return Math.round((there - here) / DAY_MS);
}

export function monthStep(direction) {
  return column() + monthAway(Number(sheet().dataset.day), direction);
}

export function toToday() {
  const picture = sheet();
  moveTo(column() + Number(picture.dataset.today) - Number(picture.dataset.day));
}

// The night, from 0, that lies so many pixels along a picture that is drawn at a scale.
export const nightAt = (along, scale, start, perDay) => Math.floor((along * scale - start) / perDay);

function columnAt(event, svg) {
  const box = svg.getBoundingClientRect();
  const along = svg.dataset.turned === "1" ? event.clientY - box.top : event.clientX - box.left;
  return nightAt(along, svg.viewBox.baseVal.width / box.width, Number(svg.dataset.start), Number(svg.dataset.perDay));
}

document.addEventListener("pointerdown", (event) => {
  const svg = event.target.closest("svg.year-sheet");
  if (!svg || event.target.closest("a") || !svg.closest("[data-year-picture]")) return;
  moveTo(columnAt(event, svg));
  if (event.pointerType === "touch" && svg.dataset.turned === "1") return; // a finger scrolls the turned year
  const drag = (moved) => moveTo(columnAt(moved, svg));
  const stop = () => {
    removeEventListener("pointermove", drag);
    removeEventListener("pointerup", stop);
  };
  addEventListener("pointermove", drag);
  addEventListener("pointerup", stop);
});
