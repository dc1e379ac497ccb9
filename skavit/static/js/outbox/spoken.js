// What the page says by itself, in the reader's language; the server has put the sentences into the page.

const held = document.getElementById("visit-words");
const sentences = held ? JSON.parse(held.textContent) : {};

export function spoken(name, put = {}) {
  return sentences[name].replace(/\{(\w+)\}/g, (_, word) => put[word]);
}
