// Photos: made small here, shown at once, kept until the server has them.

import { all, one } from "../dom.js";
import { dropPhoto, photosOf, place, putPhoto } from "./queue.js";
import { spoken } from "./spoken.js";

const LONGEST = 1600;
const QUALITY = 0.82;

async function small(file) {
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

async function show({ token, blob }) {
  const line = document.createElement("li");
  line.dataset.photoToken = token;
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

export async function takePhotos(root, files, visit) {
  for (const file of files) {
    const blob = await small(file);
    const photo = { token: crypto.randomUUID(), place: place(root), visit, blob };
    show(photo);
    await putPhoto(photo);
  }
}

export async function showKept(root) {
  for (const photo of await photosOf(root)) if (!one(`[data-photo-token="${photo.token}"]`)) show(photo);
}

// Sends what is kept; gives how many still wait. Throws where there is no connection.
export async function sendPhotos(root, csrf) {
  for (const { token, visit, blob } of await photosOf(root)) {
    const body = new FormData();
    body.set("csrfmiddlewaretoken", csrf);
    body.set("token", token);
    body.set("visit", visit);
    body.set("photo", blob, "photo.jpg");
    const answer = await fetch(root.dataset.photos, { method: "POST", body, headers: { Accept: "application/json" }, redirect: "manual" });
    if (answer.status === 422 || answer.status === 413) {
      const told = answer.status === 422 ? (await answer.json()).refused : spoken("large");
      const refused = one("[data-photo-refused]");
      refused.hidden = false;
      refused.textContent = told;
      for (const line of all(`[data-photo-token="${token}"]`)) line.remove();
    } else if (!answer.ok) break;
    await dropPhoto(token);
    for (const line of all(`[data-photo-token="${token}"]`)) line.dataset.sent = "1";
  }
  return (await photosOf(root)).length;
}
