// Steps that say another thing as the hours go on: of each the one of this moment is shown. Where the sheet ends, it says so.

import { all, one } from "../dom.js";
import { askTime, seconds } from "../time.js";

const RECKON_MS = 1000;

// The place of the moment's among instants, rising, from which something holds; the first where none does yet.
export const placeAt = (firsts, instant) => Math.max(firsts.findLastIndex((first) => first <= instant), 0);

const shown = (nodes, place) => nodes.forEach((node, at) => { node.hidden = at !== place; });

function turnTo(root, instant) {
  for (const step of all("[data-step]", root)) {
    const spells = all("[data-spell]", step);
    if (spells.length < 2) continue;
    const place = placeAt(spells.map((spell) => Number(spell.dataset.first)), instant);
    if (!spells[place].hidden) continue;
    shown(spells, place);
    all("[data-hour]", step).forEach((line, at) => line.classList.toggle("hour-here", at === place));
    const done = one("[data-tick-form] button", spells[place])?.getAttribute("aria-pressed") === "true";
    for (const bit of all(`[data-bit="${step.dataset.step}"]`, root)) bit.classList.toggle("bit-done", done);
  }
  one("[data-over]", root).hidden = instant < Number(root.dataset.until);
}

export function followTheHours(root) {
  const go = () => turnTo(root, seconds());
  go();
  askTime().then(go);
  setInterval(go, RECKON_MS);
}
