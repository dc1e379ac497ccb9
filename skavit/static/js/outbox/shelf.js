// The outbox: what waits in this browser until the server has it. Ticks, visits, photos and notes, each person's own.
//
// A waiting thing has an `id`, the `person` and `unit` it is of, its `kind`, and what is sent. One that the server
// refused says so in `refused`; it stays until its person has seen it, and is not sent again.

const SHELF = "skavit-outbox";
const STORE = "waiting";

let opened = null;

function shelf() {
  opened ??= new Promise((resolve, reject) => {
    const asked = indexedDB.open(SHELF, 1);
    asked.addEventListener("upgradeneeded", () => asked.result.createObjectStore(STORE, { keyPath: "id" }));
    asked.addEventListener("success", () => resolve(asked.result));
    asked.addEventListener("error", () => reject(asked.error));
  });
  return opened;
}

async function onShelf(mode, act) {
  const open = await shelf();
  return new Promise((resolve, reject) => {
    const asked = act(open.transaction(STORE, mode).objectStore(STORE));
    asked.addEventListener("success", () => resolve(asked.result));
    asked.addEventListener("error", () => reject(asked.error));
  });
}

// Whose page this is, and of which unit: `whose` is an element with data-person and data-unit.
export const waiting = (whose, kind, key, what) => {
  const { person, unit } = whose.dataset;
  return { ...what, id: [person, unit, kind, key].join("/"), person, unit, kind, key };
};

// Gives whether this browser keeps it.
export async function put(thing) {
  try {
    await onShelf("readwrite", (things) => things.put(thing));
    return true;
  } catch (error) {
    console.warn("This browser keeps nothing: a connection is needed.", error);
    return false;
  }
}

export const drop = (thing) => onShelf("readwrite", (things) => things.delete(thing.id));

// All that waits; nothing where the browser keeps nothing.
async function all() {
  try {
    return await onShelf("readonly", (things) => things.getAll());
  } catch (error) {
    console.warn("What this browser keeps could not be read.", error);
    return [];
  }
}

export const ofPerson = async (person) => (await all()).filter((thing) => thing.person === person);

export async function ofPage(whose, kind) {
  const { person, unit } = whose.dataset;
  return (await all()).filter((thing) => thing.person === person && thing.unit === unit && thing.kind === kind);
}
