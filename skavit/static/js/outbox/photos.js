// Photos: made small here, shown at once, kept until the server has them.

import { all, one } from "../dom.js";
import { drop, ofPage, put, waiting } from "./shelf.js";
import { post } from "./sending.js";
import { spoken } from "./spoken.js";

const LONGEST = 1600;
const QUALITY = 0.82;

// A picture made small enough to be sent from a cabinet; one that this browser cannot read stays as it is.
export async function small(file) {
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, LONGEST / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    return await new Promise((resolve) => canvas.toBlob(resolve, "image/jpeg", QUALITY));
  } catch (error) {
    console.warn("The picture is sent as it is.", error);
    return file; // the server says what is wrong with it
  }
}

async function show({ key, blob }) {
  const line = document.createElement("li");
  line.dataset.photoToken = key;
  one("[data-photo-list]").append(line);
  try {
    const picture = await createImageBitmap(blob);
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [picture.width, picture.height];
    canvas.getContext("2d").drawImage(picture, 0, 0);
    canvas.setAttribute("role", "img");
    canvas.setAttribute("aria-label", spoken("photo"));
    line.append(canvas);
  } catch (error) {
    console.warn("The picture cannot be shown here.", error);
    line.textContent = "a picture that is not sent yet";
  }
}

export const waitingPhotos = (root) => ofPage(root, "photo");

// Gives whether this browser keeps them.
export async function takePhotos(root, files, visit) {
  let kept = true;
  for (const file of files) {
    const photo = waiting(root, "photo", crypto.randomUUID(), { visit, blob: await small(file) });
    show(photo);
    kept = await put(photo) && kept;
  }
  return kept;
}

export async function showKept(root) {
  for (const photo of await waitingPhotos(root)) if (!one(`[data-photo-token="${photo.key}"]`)) show(photo);
}

// Sends what waits; gives what went wrong. One that the server does not take is told, and gone.
export async function sendPhotos(root, csrf) {
  for (const photo of await waitingPhotos(root)) {
    const body = new FormData();
    body.set("csrfmiddlewaretoken", csrf);
    body.set("token", photo.key);
    body.set("visit", photo.visit);
    body.set("photo", photo.blob, "photo.jpg");
    const { trouble, answer } = await post(root.dataset.photos, body, { refusals: [413, 422] });
    if (trouble) return trouble;
    const lines = all(`[data-photo-token="${photo.key}"]`);
    if (!answer.ok) {
      const refused = one("[data-photo-refused]");
      refused.hidden = false;
      refused.textContent = answer.status === 422 ? (await answer.json()).refused : spoken("large");
      for (const line of lines) line.remove();
    }
    await drop(photo);
    for (const line of lines) line.dataset.sent = "1";
  }
  return "";
}
