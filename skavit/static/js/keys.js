// Keys for everything on the laptop, and the buttons that say the same.

import { one } from "./dom.js";
import { nextFinding } from "./findings.js";
import { openAndFocus } from "./panels.js";
import { onRow, openRow, stepRow } from "./rows.js";
import { toggleTheme } from "./theme_switch.js";
import { column, monthStep, moveTo, sheet, toToday } from "./year_sheet.js";

let went = false;

const press = (name) => one(`[data-key="${name}"]`)?.click();

const KEYS = {
  "/": () => press("find"),
  "?": () => one("#keys").showModal(),
  d: toggleTheme,
  w: () => openAndFocus("[data-add-window]"),
  e: () => openAndFocus("[data-add-entry]"),
  f: nextFinding,
  s: () => press("sheet"),
  o: () => press("visit"),
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
    if (event.key === "d") press("due");
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

document.addEventListener("click", (event) => {
  const keyed = event.target.closest("[data-key]");
  if (!keyed) return;
  const act = { theme: toggleTheme, keys: () => one("#keys").showModal(), "next-finding": nextFinding }[keyed.dataset.key];
  if (act) act();
});
