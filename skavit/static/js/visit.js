// A visit: what is typed is kept here at once, and sent when there is a connection; ended like that too.

import { all, one } from "./dom.js";
import "./entry_sheet.js"; // so that the worker has it too: the sheet is opened from here, perhaps without signal
import { keepPage, keepSheets } from "./sheet/kept.js";
import { sendPhotos, showKept, takePhotos, waitingPhotos } from "./outbox/photos.js";
import { keepSending, post } from "./outbox/sending.js";
import { spoken } from "./outbox/spoken.js";
import { sendTicks } from "./outbox/ticks.js";
import { EMPTY, keep, read, settled, typed } from "./outbox/visit.js";

const PAUSE_MS = 700;
const root = one("[data-visit]");
const form = root && one("[data-visit-form]", root);
const boxOf = (name) => one(`[data-field="${name}"]`, root);
const csrf = () => form.elements.csrfmiddlewaretoken.value;
let queue = { ...EMPTY };
let token = "";
let pause = 0;
// First the ticks: they belong to what the visit keeps when it ends.
const flush = form && keepSending([sendTicks, sendWritten, () => sendPhotos(root, csrf())], waiting);

function put(name, value) {
  const held = form.elements[name];
  if (held) held.value = value; // of a group of buttons this presses the one
}

const valueOf = (name) => form.elements[name]?.value ?? "";
const wasOf = (name) => one("[data-was]", boxOf(name))?.value ?? "";

function write(name) {
  queue = { ...typed(queue, name, valueOf(name).trim(), wasOf(name)), token: queue.token || token };
  clearTimeout(pause);
  pause = setTimeout(flush, PAUSE_MS);
  state(spoken("unsent"));
  keep(root, queue).then((kept) => { if (!kept) say(spoken("keepsNothing")); });
}

function say(text) {
  const note = one("[data-waiting]", root);
  note.hidden = !text;
  note.textContent = text;
}

function state(text) {
  one("[data-kept-state]", root).textContent = text;
  root.dataset.unsent = Object.keys(queue.fields).length + (queue.end ? 1 : 0);
}

async function waiting(trouble) {
  const photos = (await waitingPhotos(root)).length;
  const fields = Object.values(queue.fields).filter((field) => !("theirs" in field)).length;
  root.dataset.photosWaiting = photos;
  const parts = [];
  if (fields) parts.push(spoken("fields", { count: fields }));
  if (photos) parts.push(spoken("photos", { count: photos }));
  if (queue.end) parts.push(spoken("end"));
  say(trouble && parts.length ? `${spoken(trouble)} ${spoken("waits", { parts: parts.join(", ") })}` : "");
}

function bodyOf(sent) {
  const body = new FormData();
  body.set("csrfmiddlewaretoken", csrf());
  body.set("token", queue.token || token);
  body.set("revision", queue.end?.revision ?? form.elements.revision.value);
  for (const [name, { value, was }] of Object.entries(sent)) {
    body.set(name, value);
    body.set(`was-${name}`, was);
  }
  if (queue.end) body.set("end", "1");
  return body;
}

function conflicts() {
  const theirs = Object.entries(queue.fields).filter(([, field]) => "theirs" in field);
  const box = one("[data-conflicts]", root);
  box.hidden = !theirs.length;
  one("ul", box).replaceChildren(...theirs.map(([name, field]) => {
    const line = document.createElement("li");
    const label = one("legend, label", boxOf(name)).textContent;
    const [mine, theirs] = [field.value || spoken("nothing"), field.theirs || spoken("nothing")];
    line.append(spoken("conflict", { label, mine, by: field.by, theirs }), " ");
    const choose = (text, act) => {
      const button = document.createElement("button");
      button.type = "button";
      button.className = "act";
      button.textContent = text;
      button.addEventListener("click", () => { act(); keep(root, queue); conflicts(); flush(); });
      line.append(button, " ");
    };
    choose(spoken("mine"), () => { queue.fields[name] = { value: field.value, was: field.theirs }; });
    choose(spoken("theirs", { by: field.by }), () => {
      delete queue.fields[name];
      put(name, field.theirs);
      one("[data-was]", boxOf(name)).value = field.theirs;
    });
    return line;
  }));
}

function refused(errors) {
  for (const note of all("[data-refused]", root)) {
    const told = errors[note.closest("[data-field]").dataset.field];
    note.hidden = !told;
    note.textContent = told ? told.join(" ") : "";
    note.closest("[data-field]").classList.toggle("field-refused", Boolean(told));
  }
  one(".field-refused", root)?.scrollIntoView({ block: "center" });
}

function take(answer, sent) {
  queue = settled(queue, sent, answer);
  for (const [name, value] of Object.entries(answer.values)) {
    const box = boxOf(name);
    if (!box) continue;
    one("[data-was]", box).value = value;
    if (!(name in queue.fields)) put(name, value);
  }
  token = root.dataset.token = answer.token;
  queue.token = "";
  one("[data-visit-name]", root).textContent = `${spoken("visit")} ${answer.number}`;
  if (queue.end && Object.keys(answer.errors).length) {
    queue.end = null;
    refused(answer.errors);
  }
  keep(root, queue);
  conflicts();
}

// What belongs to a visit is sent under its own token, even where the page in hand is of a newer one.
async function sendWritten() {
  const sent = Object.fromEntries(Object.entries(queue.fields).filter(([, field]) => !("theirs" in field)));
  if (!Object.keys(sent).length && !queue.end) return "";
  const ending = Boolean(queue.end);
  const { trouble, answer } = await post(root.dataset.save, bodyOf(sent), { refusals: [409] });
  if (trouble) return trouble;
  if (answer.status === 409) {
    over(await answer.json());
    return "";
  }
  const told = await answer.json();
  take(told, Object.fromEntries(Object.entries(sent).map(([name, field]) => [name, field.value])));
  state(spoken("kept"));
  if (ending && told.ended) await leave(told.ended);
  return "";
}

// The visit has ended: the page of it as it was.
async function leave(address) {
  queue = { ...EMPTY };
  await keep(root, queue);
  await sendPhotos(root, csrf());
  keepPage([]); // what is kept for places without signal is the next visit's page from now on
  location.assign(address);
}

// Somebody else has ended the visit meanwhile.
function over({ over: text, ended }) {
  const box = one("[data-over]", root);
  box.hidden = false;
  one("[data-over-text]", box).textContent = text;
  one("a", box).href = ended;
  queue.end = null;
  keep(root, queue);
}

// What was typed for a visit that somebody else has ended goes into one of its own.
function beginAnother() {
  const fields = Object.fromEntries(Object.entries(queue.fields).map(([name, { value }]) => [name, { value, was: "" }]));
  queue = { token: crypto.randomUUID(), fields, end: null };
  keep(root, queue);
  one("[data-over]", root).hidden = true;
  flush();
}

async function begin() {
  token = root.dataset.token;
  queue = await read(root);
  for (const [name, { value }] of Object.entries(queue.fields)) put(name, value);
  root.addEventListener("input", ({ target }) => { if (target.name && boxOf(target.name)) write(target.name); });
  root.addEventListener("change", ({ target }) => { if (target.type === "radio") write(target.name); });
  one("[data-photo]", root)?.addEventListener("change", async ({ target }) => {
    const kept = await takePhotos(root, [...target.files], token);
    target.value = "";
    await flush();
    if (!kept) say(spoken("keepsNothing"));
  });
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    if (event.submitter?.name === "end") {
      queue.end = { revision: form.elements.revision.value };
      keep(root, queue);
    }
    flush();
  });
  const right = one("[data-clock-right]", root);
  right.hidden = false;
  right.addEventListener("click", () => {
    put("time", one("[data-must]", root).textContent);
    write("time");
  });
  one("[data-over-new]", root).addEventListener("click", beginAnother);
  showKept(root);
  conflicts();
  flush();
  keepSheets();
  root.dataset.ready = "1";
}

if (form) begin();
