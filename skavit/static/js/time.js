// What time it is: by this device's clock, set right by the server's where there is a connection, and kept for where there is none.

const KEPT = "skavit-clock-ahead";
// An answer says whole seconds, and takes a while.
const NEAR_MS = 3000;

let aheadMs = Number(readKept());

function readKept() {
  try {
    return localStorage.getItem(KEPT) ?? 0;
  } catch {
    return 0; // a browser that keeps nothing
  }
}

export const seconds = () => (Date.now() + aheadMs) / 1000;

// How far a server's clock is ahead of this device's, in milliseconds; nothing where they agree.
// An answer that was long under way says nothing: null. A device that slept meanwhile is not behind.
export function aheadOf(said, asked, answered) {
  if (answered < asked || answered - asked > NEAR_MS) return null;
  const ahead = said - answered;
  return Number.isFinite(ahead) && Math.abs(ahead) > NEAR_MS ? ahead : 0;
}

export async function askTime() {
  const asked = Date.now();
  let said;
  try {
    said = (await fetch("/health/", { cache: "no-store" })).headers.get("Date");
  } catch {
    return; // no signal: what was known last goes on
  }
  const ahead = aheadOf(Date.parse(said), asked, Date.now());
  if (ahead === null) return;
  aheadMs = ahead;
  try {
    localStorage.setItem(KEPT, String(aheadMs));
  } catch (error) {
    console.warn("This browser keeps nothing: without signal its own clock counts.", error);
  }
}
