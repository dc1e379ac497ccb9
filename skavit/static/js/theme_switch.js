// Paper or dusk: as the system has it until somebody chooses. What was chosen is read before the first paint, in theme.js.

import { all } from "./dom.js";

function dusk() {
  const chosen = document.documentElement.dataset.theme;
  return chosen ? chosen === "dusk" : matchMedia("(prefers-color-scheme: dark)").matches;
}

export function nameTheme() {
  for (const label of all("[data-theme-name]")) label.textContent = dusk() ? label.dataset.paper : label.dataset.dusk;
}

export function toggleTheme() {
  const chosen = dusk() ? "paper" : "dusk";
  document.documentElement.dataset.theme = chosen;
  try {
    localStorage.setItem("skavit-theme", chosen);
  } catch (error) {
    console.info("The theme lasts for this page only.", error);
  }
  nameTheme();
}
