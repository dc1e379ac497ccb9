// How what waits is sent: in turn, again when there is a connection, and with one word for what stands in the way.

const RETRY_MS = 15000;

// Why something is not sent yet.
export const WHY = {
  signal: "no connection",
  login: "load this page again, and log in if asked",
  server: "the server did not take it",
};

// Posts, and gives the answer with what went wrong: "" or "signal", "login", "server". `refusals` are the statuses by
// which the server refuses what was sent, and which the caller tells; any other fault leaves it waiting.
export async function post(address, body, { headers = {}, refusals = [] } = {}) {
  let answer;
  try {
    answer = await fetch(address, {
      method: "POST", body, headers: { Accept: "application/json", ...headers }, redirect: "manual",
    });
  } catch (error) {
    if (!(error instanceof TypeError)) throw error; // that of a fetch without a connection
    return { trouble: "signal", answer: null };
  }
  if (answer.ok || refusals.includes(answer.status)) return { trouble: "", answer };
  return { trouble: answer.type === "opaqueredirect" || answer.status === 403 ? "login" : "server", answer };
}

// Sends by each of `senders` in turn, now, when the connection is back, and every while; each gives what stands in the
// way, which ends the round. `tell` says it. Gives the function that sends at once.
export function keepSending(senders, tell) {
  let round = null;
  let again = false;
  const rounds = async () => {
    try {
      do {
        again = false;
        let trouble = "";
        for (const send of senders) {
          trouble = await send();
          if (trouble) break;
        }
        await tell(trouble);
      } while (again);
    } finally {
      round = null;
    }
  };
  const flush = () => {
    again = Boolean(round); // what is pressed meanwhile goes in a round of its own
    round ??= rounds();
    return round;
  };
  addEventListener("online", flush);
  setInterval(flush, RETRY_MS);
  return flush;
}
