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

// What is asked about: the form that logs out, and what its person has here.
let now = { form: null, keys: [], photos: [] };

async function asked(event) {
  event.preventDefault();
  const form = event.target;
  const { person } = form.dataset;
  now = { form, keys: unsentKeys(person), photos: await unsentPhotos(person) };
  if (now.keys.length || now.photos.length) one("#unsent").showModal();
  else form.submit();
}

async function deleteAll() {
  for (const key of now.keys) localStorage.removeItem(key);
  await Promise.all(now.photos.map((photo) => dropPhoto(photo.token)));
  now.form.submit();
}

export function askBeforeLogOut() {
  const forms = all("form[data-log-out]");
  for (const form of forms) form.addEventListener("submit", asked);
  if (!forms.length) return;
  one("[data-unsent-keep]").addEventListener("click", () => now.form.submit());
  one("[data-unsent-delete]").addEventListener("click", deleteAll);
  one("[data-unsent-stay]").addEventListener("click", () => one("#unsent").close());
}
