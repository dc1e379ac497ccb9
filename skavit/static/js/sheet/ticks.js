// The ticks of the entry sheet as the page shows them, and what it says of those that wait.

import { all, one } from "../dom.js";
import { WHY } from "../outbox/sending.js";
import { waitingTicks } from "../outbox/ticks.js";

// A step that says another thing by the hour may be the same one to tick.
const formsOf = (key) => all("[data-tick-form]").filter((form) => form.elements.key.value === key);

export function showTick(key, done) {
  for (const form of formsOf(key)) {
    one("button", form).setAttribute("aria-pressed", String(done));
    form.elements.done.value = done ? "0" : "1";
    if (form.closest("[hidden]")) continue;
    for (const bit of all(`[data-bit="${form.elements.number.value}"]`)) bit.classList.toggle("bit-done", done);
  }
  const next = one("[data-all-ticked]");
  if (next) next.hidden = all(".overview .bit").some((bit) => !bit.classList.contains("bit-done"));
}

const sentence = (text) => `${text[0].toUpperCase()}${text.slice(1)}.`;

// What the sheet says of ticks that wait.
export const waitingText = (waiting, trouble) =>
  trouble ? `${sentence(WHY[trouble])} ${waiting} tick${waiting === 1 ? "" : "s"} kept here, sent when it can be.` : "";

export async function tellTicks(root, trouble) {
  const ticks = await waitingTicks();
  const refused = ticks.filter((tick) => tick.refused);
  const unsent = ticks.length - refused.length;
  root.dataset.unsent = unsent;
  const note = one("[data-waiting]");
  note.hidden = !unsent || !trouble;
  note.textContent = waitingText(unsent, trouble);
  const box = one("[data-conflicts]");
  box.hidden = !refused.length;
  one("ul", box).replaceChildren(...refused.map((tick) => {
    const line = document.createElement("li");
    line.textContent = `${tick.title}: ${tick.refused}`;
    return line;
  }));
}
