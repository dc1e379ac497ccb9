// A city or a zone taken into the form of a place.

import { one } from "./dom.js";

document.addEventListener("click", (event) => {
  const city = event.target.closest("[data-city]");
  const zone = event.target.closest("[data-zone-use]");
  const form = event.target.closest("form");
  if (!form || !(city || zone)) return;
  const put = (name, value) => {
    form.elements[name].value = value;
    form.elements[name].dispatchEvent(new Event("input", { bubbles: true }));
  };
  if (city) {
    put("latitude", city.dataset.latitude);
    put("longitude", city.dataset.longitude);
    put("timezone", city.dataset.zone);
    form.elements.city.value = "";
    one("#cities").replaceChildren();
  } else put("timezone", zone.dataset.zoneUse);
});
