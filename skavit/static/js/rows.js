// Windows and slots are rows: keys go from one to the next and act on the one that has the focus; slots can be dragged.

import { all, one } from "./dom.js";

const rowHere = () => document.activeElement?.closest("[data-row]");
let rowPlace = -1;

export function stepRow(direction) {
  const rows = all("[data-row]");
  if (!rows.length) return;
  const here = rows.indexOf(rowHere());
  const next = rows[Math.min(Math.max(here + direction, 0), rows.length - 1)];
  next.focus();
  next.scrollIntoView({ block: "nearest" });
}

export function onRow(selector) {
  const row = rowHere();
  const button = row && one(selector, row);
  if (!button || button.disabled) return;
  rowPlace = all("[data-row]").indexOf(row) + (selector === "[data-down]" ? 1 : selector === "[data-up]" ? -1 : 0);
  button.form.requestSubmit(button);
}

export function openRow() {
  const row = rowHere();
  if (!row || row !== document.activeElement) return false;
  (one("summary", row) ?? one("a", row))?.click();
  return true;
}

export function backToRow() {
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
