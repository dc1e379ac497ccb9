// Before the first paint: the theme that was chosen on this device, if one was.
try {
  const chosen = localStorage.getItem("skavit-theme");
  if (chosen === "paper" || chosen === "dusk") document.documentElement.dataset.theme = chosen;
} catch (error) {
  console.info("No storage on this device; the system's theme is used.", error);
}
