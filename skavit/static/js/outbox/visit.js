// What was written at a visit and the server does not have yet: fields by name, and whether it is to be ended.

import { drop, ofPage, put, waiting } from "./shelf.js";

export const EMPTY = { token: "", fields: {}, end: null };

export async function read(whose) {
  const [{ token, fields, end } = EMPTY] = await ofPage(whose, "visit");
  return { token, fields, end };
}

// Gives whether this browser keeps it.
export async function keep(whose, written) {
  const thing = waiting(whose, "visit", "", written);
  if (Object.keys(written.fields).length || written.end) return put(thing);
  await drop(thing);
  return true;
}

// A value typed: what stood in the field when somebody first began to type stays with it until the server has it.
export function typed(written, name, value, was) {
  const before = written.fields[name]?.was ?? was;
  const fields = { ...written.fields };
  if (value === before) delete fields[name];
  else fields[name] = { value, was: before };
  return { ...written, fields };
}

// What is left to send once the server has answered: what was turned again meanwhile, and what somebody else has written.
export function settled(written, sent, answer) {
  const fields = {};
  for (const [name, now] of Object.entries(written.fields)) {
    const conflict = answer.conflicts?.[name];
    if (conflict) fields[name] = { ...now, theirs: conflict.theirs, by: conflict.by };
    else if (!(name in sent)) fields[name] = now;
    else if (now.value !== sent[name]) fields[name] = { value: now.value, was: sent[name] };
  }
  return { ...written, fields };
}
