// Behaviour of the pages.

import "./faults.js";
import "./findings.js";
import "./half_typed.js";
import "./keys.js";
import "./places.js";
import "./working.js";
import { runClock } from "./clock_face.js";
import { all, one } from "./dom.js";
import { showFields } from "./panels.js";
import { askBeforeLogOut } from "./log_out.js";
import { forgetSheets } from "./sheet/kept.js";
import { nameTheme } from "./theme_switch.js";

nameTheme();
showFields();
runClock();
askBeforeLogOut();

for (const button of all("[data-print]")) button.addEventListener("click", () => print());

// Whoever logs in next on this device sees no sheet of the one before.
if (one("[name=username]")) forgetSheets();
