// Logging out with something unsent asks first: it waits here for its person, or goes.

import { all, one } from "./dom.js";
import { allPhotos, dropPhoto } from "./visit/queue.js";

const own = (person) => new RegExp(`^skavit-(ticks|visit)-${person}-`, "u");

async function unsentPhotos(person) {
  try {
    return (await allPhotos()).filter((photo) => own(person).test(photo.place));
  } catch (error) {
    console.warn("This browser keeps no photos.", error);
    return [];
  }
}

function unsentKeys(person) {
  try {
    return Object.keys(localStorage).filter((key) => own(person).test(key) && localStorage.getItem(key) !== "{}");
  } catch (error) {
    console.warn("This browser keeps nothing.", error);
    return [];
  }
}

async function asked(event) {
  const form = event.target;
  event.preventDefault();
  const { person } = form.dataset;
  const keys = unsentKeys(person);
  const photos = await unsentPhotos(person);
  if (!keys.length && !photos.length) {
    form.submit();
    return;
  }
  const dialog = one("#unsent");
  one("[data-unsent-keep]").onclick = () => form.submit();
  one("[data-unsent-delete]").onclick = async () => {
    for (const key of keys) localStorage.removeItem(key);
    await Promise.all(photos.map((photo) => dropPhoto(photo.token)));
    form.submit();
  };
  one("[data-unsent-stay]").onclick = () => dialog.close();
  dialog.showModal();
}

export function askBeforeLogOut() {
  for (const form of all("form[data-log-out]")) form.addEventListener("submit", asked);
}
