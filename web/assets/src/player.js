// The respondent's pages work without this: it only saves taps and keys.
import "./player/sent.js";
import "./player/ahead.js";
import "./player/result.js";
import "./player/one.js";
import "./player/several.js";
import "./player/leaving.js";
import { bringToLife } from "./player/parts.js";

bringToLife(document);

// A page that answers a form is as any other for the browser's Back: it asks for nothing.
history.replaceState(history.state, "", location.href);

// What went wrong is read out and seen first.
document.querySelector(".wrong")?.focus();
