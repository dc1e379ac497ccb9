// Panels and fields of forms: which show, and where the focus goes when a form opens.
//
// The work region is changed by morphing: what stays the same stays in place, with its focus. A panel that was open when
// the server refused something stays open, with what was typed; not where the page was stale, for then another row may
// stand at its place: the server opens the one that was typed in.
/* global Idiomorph, htmx */

import { all, one } from "./dom.js";
import { backToRow } from "./rows.js";
import { sheet } from "./year_sheet.js";

const SUN = new Set(["dawn", "sunrise", "sunset", "dusk"]);
const CONFLICT = 409;
let status = 200;
const refused = () => status >= 400;

document.addEventListener("htmx:beforeSwap", ({ detail }) => { status = detail.xhr.status; });
Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, panel, change) =>
  !(refused() && status !== CONFLICT && change === "remove" && name === "open" && panel.matches("[data-keep]"));

// Which fields a choice of a time or of days shows.
export const fieldsOf = (kind) => (SUN.has(kind) ? "sun" : kind);

export function showFields(root = document) {
  for (const group of all("[data-kind]", root)) {
    group.parentElement.dataset.shown = fieldsOf(one("input:checked", group)?.value ?? "");
  }
}

document.addEventListener("change", (event) => {
  if (event.target.closest("[data-kind]")) showFields();
});
document.addEventListener("focusin", ({ target }) => { if (target.matches("[data-select]")) target.select(); });

document.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id === "unit-work" && !refused()) backToRow();
  const picture = sheet();
  for (const field of picture ? all("[data-day-field]") : []) field.value = picture.dataset.day;
  showFields();
  // The focus goes into a form that has just come, never away from what somebody types.
  const { elt } = event.detail;
  if (elt.matches?.("[data-opened]") && !document.activeElement.matches("input, select, textarea")) focusIn(elt);
});

// A panel that was opened in the moment before its link was listened to has its form fetched all the same.
document.addEventListener("htmx:afterSettle", () => {
  for (const link of all("details[open] > .lazy > a")) htmx.trigger(link.closest("details"), "toggle");
});

export function focusIn(form) {
  const panel = one("details[open]", form) ?? form;
  const fields = all("input[type=text], input[type=number], input[type=radio]:checked", panel);
  (fields.find((field) => field.offsetParent && field.type !== "radio") ?? fields[0])?.focus();
}

export function openAndFocus(selector) {
  const panel = one(selector);
  if (!panel) return;
  panel.open = true;
  panel.scrollIntoView({ block: "center" });
  const form = one("[data-opened]", panel);
  if (form) focusIn(form);
}
