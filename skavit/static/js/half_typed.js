// A line that was begun and not saved: fitting would lose it, so it asks to finish or drop it first.

import { all, one } from "./dom.js";
import { focusIn } from "./panels.js";

const differs = (field) =>
  field.matches("[type=radio], [type=checkbox]")
    ? field.checked !== field.defaultChecked
    : field.matches("select")
      ? [...field.options].some((option) => option.selected !== option.defaultSelected) && field.selectedIndex > 0
      : field.value !== field.defaultValue;

const shown = (form) => form.offsetParent !== null;

// Whether a form stands open.
export const opened = () => all("form[data-opened]").some(shown);

// The form that somebody has typed into; none where all is as it came.
export const halfTyped = (root = document) =>
  all("form[data-opened]", root).find(
    (form) => shown(form) && (one(".refused", form) || [...form.elements].some((field) => field.name && differs(field))),
  );

function ask(fit, form) {
  const note = one("template[data-half-typed]").content.firstElementChild.cloneNode(true);
  one("[data-finish]", note).addEventListener("click", () => {
    note.remove();
    form.scrollIntoView({ block: "center" });
    focusIn(form);
  });
  one("[data-drop]", note).addEventListener("click", () => {
    note.remove();
    form.reset();
    fit.requestSubmit();
  });
  fit.before(note);
  note.scrollIntoView({ block: "center" });
  one("[data-finish]", note).focus();
}

document.addEventListener("submit", (event) => {
  const form = event.target.matches("[data-fit]") && halfTyped();
  if (!form) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (!one(".half-typed")) ask(event.target, form);
}, true);
