// A visit: what is typed is kept here at once, and sent when there is a connection; ended like that too.

import { all, one } from "./dom.js";
import "./entry_sheet.js"; // so that the worker has it too: the sheet is opened from here, perhaps without signal
import { keepPage, keepSheets } from "./sheet/kept.js";
import { sendTicks } from "./sheet/ticks.js";
import { sendPhotos, showKept, takePhotos } from "./visit/photos.js";
import { spoken } from "./visit/spoken.js";
import { EMPTY, keep, photosOf, read, settled, typed } from "./visit/queue.js";

const RETRY_MS = 15000;
const PAUSE_MS = 700;
const root = one("[data-visit]");
const form = root && one("[data-visit-form]", root);
const boxOf = (name) => one(`[data-field="${name}"]`, root);
const csrf = () => form.elements.csrfmiddlewaretoken.value;
let queue = root ? read(root) : EMPTY;
let token = "";
let pause = 0;
let sending = false;

function put(name, value) {
  const held = form.elements[name];
  if (held) held.value = value; // of a group of buttons this presses the one
}

const valueOf = (name) => form.elements[name]?.value ?? "";
const wasOf = (name) => one("[data-was]", boxOf(name))?.value ?? "";

function write(name) {
  queue = { ...typed(queue, name, valueOf(name).trim(), wasOf(name)), token: queue.token || token };
  if (!keep(root, queue)) say(spoken("keepsNothing"));
  clearTimeout(pause);
  pause = setTimeout(flush, PAUSE_MS);
  state(spoken("unsent"));
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
  const photos = (await photosOf(root)).length;
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
async function flush() {
  if (sending || !form) return;
  sending = true;
  let trouble = "";
  try {
    const sent = Object.fromEntries(Object.entries(queue.fields).filter(([, field]) => !("theirs" in field)));
    ({ trouble } = await sendTicks()); // first: they belong to what the visit keeps when it ends
    if (!trouble && (Object.keys(sent).length || queue.end)) {
      const ending = Boolean(queue.end);
      const answer = await fetch(root.dataset.save, {
        method: "POST", body: bodyOf(sent), headers: { Accept: "application/json" }, redirect: "manual",
      });
      if (answer.ok) {
        const told = await answer.json();
        const values = Object.fromEntries(Object.entries(sent).map(([name, field]) => [name, field.value]));
        take(told, values);
        state(spoken("kept"));
        if (ending && told.ended) {
          queue = { ...EMPTY };
          keep(root, queue);
          await sendPhotos(root, csrf());
          keepPage([]); // what is kept for places without signal is the next visit's page from now on
          location.assign(told.ended);
          return;
        }
      } else if (answer.status === 409) {
        const { over, ended } = await answer.json();
        const box = one("[data-over]", root);
        box.hidden = false;
        one("[data-over-text]", box).textContent = over;
        one("a", box).href = ended;
        queue.end = null;
        keep(root, queue);
      } else trouble = answer.type === "opaqueredirect" || answer.status === 403 ? "login" : "server";
    }
    if (!trouble) await sendPhotos(root, csrf());
  } catch (error) {
    if (!(error instanceof TypeError)) throw error; // that of a fetch without a connection
    trouble = "signal";
  } finally {
    sending = false;
  }
  await waiting(trouble);
}

// What was typed for a visit that somebody else has ended goes into one of its own.
function beginAnother() {
  const fields = Object.fromEntries(Object.entries(queue.fields).map(([name, { value }]) => [name, { value, was: "" }]));
  queue = { token: crypto.randomUUID(), fields, end: null };
  keep(root, queue);
  one("[data-over]", root).hidden = true;
  flush();
}

function begin() {
  token = root.dataset.token;
  for (const [name, { value }] of Object.entries(queue.fields)) put(name, value);
  root.addEventListener("input", ({ target }) => { if (target.name && boxOf(target.name)) write(target.name); });
  root.addEventListener("change", ({ target }) => { if (target.type === "radio") write(target.name); });
  one("[data-photo]", root)?.addEventListener("change", async ({ target }) => {
    await takePhotos(root, [...target.files], token);
    target.value = "";
    await flush();
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
  addEventListener("online", flush);
  setInterval(flush, RETRY_MS);
  flush();
  keepSheets();
  root.dataset.ready = "1";
}

if (form) begin();
