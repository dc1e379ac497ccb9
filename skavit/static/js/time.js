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
export function aheadOf(said, here) {
  const ahead = said - here;
  return Number.isFinite(ahead) && Math.abs(ahead) > NEAR_MS ? ahead : 0;
}

export async function askTime() {
  let said;
  try {
    said = (await fetch("/health/", { cache: "no-store" })).headers.get("Date");
  } catch {
    return; // no signal: what was known last goes on
  }
  aheadMs = aheadOf(Date.parse(said), Date.now());
  try {
    localStorage.setItem(KEPT, String(aheadMs));
  } catch (error) {
    console.warn("This browser keeps nothing: without signal its own clock counts.", error);
  }
}
