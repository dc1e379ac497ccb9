// Logging out with something unsent asks first: it waits here for its person, or goes.

import { all, one } from "./dom.js";
import { drop, ofPerson } from "./outbox/shelf.js";

// What is asked about: the form that logs out, and what its person has here.
let now = { form: null, unsent: [] };

async function asked(event) {
  event.preventDefault();
  const form = event.target;
  now = { form, unsent: await ofPerson(form.dataset.person) };
  if (now.unsent.length) one("#unsent").showModal();
  else form.submit();
}

async function deleteAll() {
  await Promise.all(now.unsent.map(drop));
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
