// The record of a unit: a note is kept here until the server has it, so that one written without signal is not lost.

import { all, one } from "./dom.js";
import { small } from "./outbox/photos.js";
import { drop, ofPage, put, waiting } from "./outbox/shelf.js";
import { WHY, keepSending, post } from "./outbox/sending.js";

const root = one("[data-notes]");
const form = root && one("form[data-note-form]", root);

async function sendNotes() {
  let sent = 0;
  for (const note of await ofPage(root, "note")) {
    if (note.refused) continue;
    const body = new FormData();
    body.set("csrfmiddlewaretoken", form.elements.csrfmiddlewaretoken.value);
    body.set("token", note.key);
    body.set("text", note.text);
    for (const photo of note.photos) body.append("photos", photo, "photo.jpg");
    const { trouble, answer } = await post(form.action, body, { refusals: [413, 422] });
    if (trouble) return trouble;
    if (answer.ok) {
      await drop(note);
      sent += 1;
    } else {
      const refused = answer.status === 422 ? (await answer.json()).refused : "This note is too large.";
      await put({ ...note, refused });
    }
  }
  // The page shows what was sent, unless somebody is writing the next one.
  if (sent && !form.elements.text.value.trim() && !form.elements.photos.files.length) location.reload();
  return "";
}

function line(note, trouble) {
  const item = document.createElement("li");
  const photos = note.photos.length ? ` (photos: ${note.photos.length})` : "";
  const why = note.refused ?? `Not sent yet: ${WHY[trouble] ?? "it is on its way"}.`;
  const [what, state] = [document.createElement("b"), document.createElement("p")];
  what.textContent = `${note.text}${photos}`;
  state.textContent = why;
  state.className = "quiet";
  item.append(what, " ", state, " ");
  const button = document.createElement("button");
  button.type = "button";
  button.className = "act";
  button.textContent = "Change it";
  button.addEventListener("click", async () => {
    form.elements.text.value = note.text;
    const files = new DataTransfer();
    for (const photo of note.photos) files.items.add(new File([photo], "photo.jpg", { type: photo.type }));
    form.elements.photos.files = files.files;
    await drop(note);
    item.remove();
  });
  item.append(button);
  return item;
}

async function tell(trouble) {
  const notes = await ofPage(root, "note");
  const box = one("[data-notes-waiting]", root);
  box.hidden = !notes.length;
  box.replaceChildren(...notes.map((note) => line(note, trouble)));
}

async function write(event) {
  event.preventDefault();
  const text = form.elements.text.value.trim();
  const photos = await Promise.all([...form.elements.photos.files].map(small));
  // The server says what is missing from an empty note, and takes one that this browser cannot keep.
  if (!(text || photos.length) || !await put(waiting(root, "note", crypto.randomUUID(), { text, photos }))) {
    form.submit();
    return;
  }
  for (const note of all(".refused", form)) note.remove();
  form.elements.text.value = form.elements.photos.value = "";
  await flush();
}

const flush = form && keepSending([sendNotes], tell);
if (form) {
  form.addEventListener("submit", write);
  flush();
}
