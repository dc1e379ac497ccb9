// Behaviour of the pages: keys, theme, the year sheet's cursor, open panels kept over a change, the entry sheet.
"use strict";

const one = (selector, root = document) => root.querySelector(selector);
const all = (selector, root = document) => [...root.querySelectorAll(selector)];

// ------------------------------------------------------------------------------------------------------ theme

function dusk() {
  const chosen = document.documentElement.dataset.theme;
  return chosen ? chosen === "dusk" : matchMedia("(prefers-color-scheme: dark)").matches;
}

function nameTheme() {
  for (const label of all("[data-theme-name]")) label.textContent = dusk() ? "Paper" : "Dusk";
}

function toggleTheme() {
  const chosen = dusk() ? "paper" : "dusk";
  document.documentElement.dataset.theme = chosen;
  try {
    localStorage.setItem("skavit-theme", chosen);
  } catch (error) {
    console.info("The theme lasts for this page only.", error);
  }
  nameTheme();
}

// ------------------------------------------------------------------------------------------------- year sheet

const sheet = () => one("[data-year-picture]");
let asking = 0;

function column() {
  return Number(sheet().dataset.column);
}

function moveTo(wanted) {
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

function monthStep(direction) {
  const picture = sheet();
  const day = new Date(Number(picture.dataset.day) * 86400000);
  const there = new Date(day);
  there.setUTCMonth(day.getUTCMonth() + direction);
  return column() + Math.round((there - day) / 86400000);
}

function toToday() {
  const picture = sheet();
  moveTo(column() + Number(picture.dataset.today) - Number(picture.dataset.day));
}

function columnAt(event, svg) {
  const box = svg.getBoundingClientRect();
  const turned = svg.dataset.turned === "1";
  const scale = svg.viewBox.baseVal.width / box.width;
  const along = (turned ? event.clientY - box.top : event.clientX - box.left) * scale - Number(svg.dataset.start);
  return Math.floor(along / Number(svg.dataset.perDay));
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

// --------------------------------------------------------------------------------------------------- findings

function chooseFinding(number, scroll) {
  const article = one(`#finding-${number}`);
  if (!article) return;
  const notes = article.closest("details");
  if (notes) notes.open = true;
  for (const old of all(".chosen")) old.classList.remove("chosen");
  article.classList.add("chosen");
  for (const bar of all(`.mark-bar[data-finding="${number}"]`)) bar.classList.add("chosen");
  for (const slot of all("[data-slot]")) {
    if (slot.dataset.findings.split(" ").includes(String(number))) slot.classList.add("chosen");
  }
  moveTo(Number(article.dataset.column));
  if (scroll) article.scrollIntoView({ block: "nearest" });
}

function nextFinding() {
  const list = all("[data-finding][id]");
  if (!list.length) return;
  const here = list.findIndex((item) => item.classList.contains("chosen"));
  chooseFinding(list[(here + 1) % list.length].dataset.finding, true);
}

document.addEventListener("click", (event) => {
  const go = event.target.closest("[data-finding-go]");
  if (go) chooseFinding(go.dataset.findingGo, false);
  const sign = event.target.closest("svg a[data-finding]");
  if (sign) {
    event.preventDefault();
    chooseFinding(sign.dataset.finding, true);
    moveTo(Number(sign.dataset.column));
  }
  const keyed = event.target.closest("[data-key]");
  if (!keyed) return;
  const act = { theme: toggleTheme, keys: () => one("#keys").showModal(), "next-finding": nextFinding }[keyed.dataset.key];
  if (act) act();
});

// ------------------------------------------------------------------------------------------ place of a form

document.addEventListener("click", (event) => {
  const city = event.target.closest("[data-city]");
  const zone = event.target.closest("[data-zone-use]");
  const form = event.target.closest("form");
  if (!form || !(city || zone)) return;
  const put = (name, value) => {
    form.elements[name].value = value;
    form.elements[name].dispatchEvent(new Event("input", { bubbles: true }));
  };
  if (city) {
    put("latitude", city.dataset.latitude);
    put("longitude", city.dataset.longitude);
    put("timezone", city.dataset.zone);
    form.elements.city.value = "";
    one("#cities").replaceChildren();
  } else put("timezone", zone.dataset.zoneUse);
});

// ------------------------------------------------------------------- panels that stay open, and fields that show

const opened = new Set();

document.addEventListener("toggle", (event) => {
  const name = event.target.dataset?.keep;
  if (!name) return;
  if (event.target.open) opened.add(name);
  else opened.delete(name);
}, true);

function showFields(root = document) {
  for (const group of all("[data-kind]", root)) {
    const kind = one("input:checked", group)?.value ?? "";
    const panel = group.parentElement;
    panel.dataset.shown = ["dawn", "sunrise", "sunset", "dusk"].includes(kind) ? "sun" : kind;
  }
}

document.addEventListener("change", (event) => {
  if (event.target.closest("[data-kind]")) showFields();
});

const NO_ANSWER = "The server did not answer. What you typed still stands here; try again.";

function tellFault(words) {
  const line = one("[data-fault]");
  line.textContent = words;
  line.hidden = !words;
}

document.addEventListener("htmx:beforeRequest", () => tellFault(""));
for (const name of ["htmx:sendError", "htmx:timeout"]) document.addEventListener(name, () => tellFault(NO_ANSWER));
// What the server refuses it says as plain words; the page stays as it is, with what was typed.
document.addEventListener("htmx:afterRequest", ({ detail: { xhr } }) => {
  if (xhr.status < 400) return;
  const plain = xhr.getResponseHeader("Content-Type")?.startsWith("text/plain");
  if (plain) tellFault(xhr.responseText);
  else if (![409, 422].includes(xhr.status)) tellFault(NO_ANSWER);
});
document.addEventListener("focusin", ({ target }) => { if (target.matches("[data-select]")) target.select(); });

document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id === "unit-work") {
    if (one(".refused")) {
      for (const panel of all("[data-keep]")) if (opened.has(panel.dataset.keep)) panel.open = true;
    } else {
      opened.clear();
      backToRow();
    }
  }
  for (const field of all("[data-day-field]")) field.value = sheet().dataset.day;
  showFields();
  const form = event.detail.elt.closest?.("[data-opened]") ?? event.detail.elt;
  if (form.matches?.("[data-opened]")) focusIn(form);
});

function focusIn(form) {
  const panel = one("details[open]", form) ?? form;
  const fields = all("input[type=text], input[type=number], input[type=radio]:checked", panel);
  (fields.find((field) => field.offsetParent && field.type !== "radio") ?? fields[0])?.focus();
}

// -------------------------------------------------------------------------------------------------------- rows

// Windows and slots are rows: j and k go from one to the next, and keys act on the one that has the focus.
const rowHere = () => document.activeElement?.closest("[data-row]");
let rowPlace = -1;

function stepRow(direction) {
  const rows = all("[data-row]");
  if (!rows.length) return;
  const here = rows.indexOf(rowHere());
  const next = rows[Math.min(Math.max(here + direction, 0), rows.length - 1)];
  next.focus();
  next.scrollIntoView({ block: "nearest" });
}

function onRow(selector) {
  const row = rowHere();
  const button = row && one(selector, row);
  if (!button || button.disabled) return;
  rowPlace = all("[data-row]").indexOf(row) + (selector === "[data-down]" ? 1 : selector === "[data-up]" ? -1 : 0);
  button.form.requestSubmit(button);
}

function openRow() {
  const row = rowHere();
  if (!row || row !== document.activeElement) return false;
  (one("summary", row) ?? one("a", row))?.click();
  return true;
}

function backToRow() {
  if (rowPlace < 0) return;
  const rows = all("[data-row]");
  rows[Math.min(rowPlace, rows.length - 1)]?.focus();
  rowPlace = -1;
}

let dragged = null;
document.addEventListener("dragstart", (event) => { dragged = event.target.closest?.("li[data-row]"); });
document.addEventListener("dragover", (event) => {
  if (dragged && event.target.closest?.("li[data-row]")) event.preventDefault();
});
document.addEventListener("drop", (event) => {
  const to = event.target.closest?.("li[data-row]");
  const form = dragged && one("[data-move]", dragged);
  if (!to || !form || to === dragged) return;
  event.preventDefault();
  const field = one("[data-up]", form);
  field.disabled = false;
  field.value = to.dataset.slot;
  form.requestSubmit(field);
});

// ------------------------------------------------------------------------------------------------------ clock

// The display of the clock step goes on with the site's time: what it read when the page was made would soon be wrong.
function runClock() {
  const display = one("[data-clock]");
  if (!display) return;
  const start = Number(display.dataset.clock) * 1000 - Date.now();
  const twelve = display.dataset.twelve === "1";
  const day = new Date(start + Date.now()).getUTCDate();
  setInterval(() => {
    const now = new Date(start + Date.now());
    if (now.getUTCDate() !== day) location.reload();
    const minute = String(now.getUTCMinutes()).padStart(2, "0");
    const hour = now.getUTCHours();
    display.textContent = twelve
      ? `${((hour + 11) % 12) + 1}:${minute} ${hour < 12 ? "am" : "pm"}`
      : `${String(hour).padStart(2, "0")}:${minute}`;
    for (const part of all("[data-clock-minute]")) part.textContent = minute;
    for (const part of all("[data-clock-hour]")) {
      part.textContent = twelve ? `${((hour + 11) % 12) + 1} ${hour < 12 ? "AM" : "PM"}` : String(hour).padStart(2, "0");
    }
  }, 1000);
}

// ------------------------------------------------------------------------------------------------------- keys

let went = false;

function openAndFocus(selector) {
  const panel = one(selector);
  if (!panel) return;
  panel.open = true;
  panel.scrollIntoView({ block: "center" });
  const form = one("[data-opened]", panel);
  if (form) focusIn(form);
}

const press = (name) => one(`[data-key="${name}"]`)?.click();

const KEYS = {
  "/": () => press("find"),
  "?": () => one("#keys").showModal(),
  d: toggleTheme,
  w: () => openAndFocus("[data-add-window]"),
  e: () => openAndFocus("[data-add-entry]"),
  f: nextFinding,
  s: () => press("sheet"),
  k: () => press("clock"),
  v: () => press("by"),
  h: () => press("handover"),
  j: () => stepRow(1),
  i: () => stepRow(-1),
  c: () => onRow("[data-copy]"),
  x: () => onRow("[data-take-out]"),
  "[": () => onRow("[data-up]"),
  "]": () => onRow("[data-down]"),
  u: () => press("undo"),
  y: () => press("redo"),
};
const SHEET_KEYS = {
  ArrowLeft: (event) => moveTo(event.shiftKey ? monthStep(-1) : column() - 1),
  ArrowRight: (event) => moveTo(event.shiftKey ? monthStep(1) : column() + 1),
  t: toToday,
};

addEventListener("keydown", (event) => {
  const typing = event.target.matches("input:not([type=radio]):not([type=checkbox]), textarea, select");
  if (event.key === "Escape") {
    const panel = event.target.closest("details[open]");
    if (panel) {
      panel.open = false;
      one("summary", panel).focus();
    } else if (typing) event.target.blur();
    return;
  }
  if (typing || event.ctrlKey || event.metaKey || event.altKey || one("dialog[open]")) return;
  if (event.target.matches("input[type=radio]") && event.key.startsWith("Arrow")) return;
  if (went) {
    went = false;
    if (event.key === "r") one(".brand").click();
    if (event.key === "u") press("unit");
    if (event.key === "c") press("calculators");
    return;
  }
  if (event.key === "g") {
    went = true;
    setTimeout(() => { went = false; }, 1500);
    return;
  }
  if (event.key === "Enter" && openRow()) {
    event.preventDefault();
    return;
  }
  const act = KEYS[event.key] ?? (sheet() ? SHEET_KEYS[event.key] : undefined);
  if (!act) return;
  event.preventDefault();
  act(event);
});

nameTheme();
showFields();
runClock();

// Whoever logs in next on this device sees no sheet of the one before.
if (one("[name=username]") && "caches" in window) {
  caches.delete("skavit-sheets-1").catch((error) => console.warn("Kept sheets could not be forgotten.", error));
}
