// Ticks of the entry sheet that wait, of a sheet or of a visit that sends what the sheet has kept.

import { one } from "../dom.js";
import { drop, ofPage, put, waiting } from "./shelf.js";
import { post } from "./sending.js";

const MOST_AT_ONCE = 500;
const root = () => one("[data-sheet], [data-visit]");

export const waitingTicks = () => ofPage(root(), "tick");

export const keepTick = (key, done, title) =>
  put(waiting(root(), "tick", key, { done, title, said: Date.now(), proof: root().dataset.proof ?? "" }));

function packed(ticks) {
  const body = new FormData();
  body.set("csrfmiddlewaretoken", one("[name=csrfmiddlewaretoken]", root()).value);
  body.set("person", root().dataset.person);
  for (const { key, done, said } of ticks) {
    body.append("key", key);
    body.append("done", done ? "1" : "0");
    body.append("said", said);
  }
  for (const proof of new Set(ticks.map((tick) => tick.proof))) if (proof) body.append("proof", proof);
  return body;
}

// Sends what waits, all at once; gives what went wrong.
export async function sendTicks() {
  const ticks = (await waitingTicks()).filter((tick) => !tick.refused).slice(0, MOST_AT_ONCE);
  if (!ticks.length) return "";
  const { trouble, answer } = await post(root().dataset.tick, packed(ticks), { headers: { "HX-Request": "true" } });
  if (trouble) return trouble;
  const { gone } = await answer.json();
  const now = new Map((await waitingTicks()).map((tick) => [tick.id, tick.said]));
  for (const tick of ticks) {
    // Turned again while it was under way: the newer state is sent at the next round.
    if (now.get(tick.id) !== tick.said) continue;
    if (gone[tick.key]) await put({ ...tick, refused: gone[tick.key] });
    else await drop(tick);
  }
  return "";
}

export async function forgetRefused() {
  for (const tick of await waitingTicks()) if (tick.refused) await drop(tick);
}
