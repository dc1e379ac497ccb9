// Behaviour of the pages.

import "./faults.js";
import "./findings.js";
import "./keys.js";
import "./places.js";
import { runClock } from "./clock_face.js";
import { one } from "./dom.js";
import { showFields } from "./panels.js";
import { forgetSheets } from "./sheet/kept.js";
import { nameTheme } from "./theme_switch.js";

nameTheme();
showFields();
runClock();

// Whoever logs in next on this device sees no sheet of the one before.
if (one("[name=username]")) forgetSheets();
