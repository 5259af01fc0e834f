// The respondent's pages work without this: it saves taps, keys and waiting.
import "./player/result.js";
import "./player/sent.js";
import { begin } from "./player/page.js";

begin();
