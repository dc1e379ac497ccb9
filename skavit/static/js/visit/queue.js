// What was written at a visit and the server does not have yet, and the photos taken meanwhile. Each person's own, unit by unit.

const SHELF = "skavit-visit-photos";

export function place(root) {
  return `skavit-visit-${root.dataset.person}-${root.dataset.unit}`;
}

export const EMPTY = { token: "", fields: {}, end: null };

export function read(root) {
  try {
    return { ...EMPTY, ...JSON.parse(localStorage.getItem(place(root)) ?? "{}") };
  } catch (error) {
    console.warn("What was kept of this visit could not be read.", error);
    return { ...EMPTY };
  }
}

// Gives whether this browser keeps it.
export function keep(root, queue) {
  try {
    if (Object.keys(queue.fields).length || queue.end) localStorage.setItem(place(root), JSON.stringify(queue));
    else localStorage.removeItem(place(root));
    return true;
  } catch (error) {
    console.warn("This browser keeps nothing: a visit needs a connection.", error);
    return false;
  }
}

// A value typed: what stood in the field when somebody first began to type stays with it until the server has it.
export function typed(queue, name, value, was) {
  const before = queue.fields[name]?.was ?? was;
  const fields = { ...queue.fields };
  if (value === before) delete fields[name];
  else fields[name] = { value, was: before };
  return { ...queue, fields };
}

// What is left to send once the server has answered: what was turned again meanwhile, and what somebody else has written.
export function settled(queue, sent, answer) {
  const fields = {};
  for (const [name, now] of Object.entries(queue.fields)) {
    const conflict = answer.conflicts?.[name];
    if (conflict) fields[name] = { ...now, theirs: conflict.theirs, by: conflict.by };
    else if (!(name in sent)) fields[name] = now;
    else if (now.value !== sent[name]) fields[name] = { value: now.value, was: sent[name] };
  }
  return { ...queue, fields };
}

const shelf = () => new Promise((resolve, reject) => {
  const asked = indexedDB.open(SHELF, 1);
  asked.addEventListener("upgradeneeded", () => asked.result.createObjectStore("photos", { keyPath: "token" }));
  asked.addEventListener("success", () => resolve(asked.result));
  asked.addEventListener("error", () => reject(asked.error));
});

async function onShelf(mode, act) {
  const open = await shelf();
  return new Promise((resolve, reject) => {
    const asked = act(open.transaction("photos", mode).objectStore("photos"));
    asked.addEventListener("success", () => resolve(asked.result));
    asked.addEventListener("error", () => reject(asked.error));
  }).finally(() => open.close());
}

export const putPhoto = (photo) => onShelf("readwrite", (photos) => photos.put(photo));
export const dropPhoto = (token) => onShelf("readwrite", (photos) => photos.delete(token));

export const allPhotos = () => onShelf("readonly", (photos) => photos.getAll());

export async function photosOf(root) {
  const all = await allPhotos();
  return all.filter((photo) => photo.place === place(root));
}
