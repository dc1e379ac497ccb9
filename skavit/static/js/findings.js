// Findings chosen: their dates on the sheet, their slots, the cursor on their first night.

import { all, one } from "./dom.js";
import { opened } from "./half_typed.js";
import { column, moveTo, sheet } from "./year_sheet.js";

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

export function nextFinding() {
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
});

// What mends the unit comes after the page. Where the page is another by then, a line is being typed or a panel stands
// open, it stays as it is; else the cursor stays on the night where somebody has put it meanwhile.
document.addEventListener("htmx:beforeSwap", (event) => {
  const { requestConfig, pathInfo } = event.detail;
  if (!requestConfig?.elt.matches("#follows")) return;
  const awaits = one("#follows");
  if (awaits?.getAttribute("hx-get") !== pathInfo.requestPath) {
    event.detail.shouldSwap = false;
  } else if (opened() || one("#unit-work details[open]")) {
    event.detail.shouldSwap = false;
    awaits.remove();
  } else if (sheet()) {
    const { year, day } = sheet().dataset;
    document.addEventListener("htmx:afterSwap", () => backTo(year, Number(day)), { once: true });
  }
});

function backTo(year, day) {
  const shown = sheet()?.dataset;
  if (shown?.year === year && Number(shown.day) !== day) moveTo(column() + day - Number(shown.day));
}
