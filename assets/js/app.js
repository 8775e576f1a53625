// What every page carries: htmx for redraws, Alpine for small state, keys. Nothing of the trade is worked out here.
import Alpine from "@alpinejs/csp";
import htmx from "htmx.org";
import { changes } from "./changes.js";
import { hand } from "./hand.js";
import { kept } from "./kept.js";
import { keys } from "./keys.js";
import { lines } from "./lines.js";
import { nest } from "./nest.js";
import { player } from "./player.js";
import { sketch } from "./sketch.js";
import { strokes } from "./strokes.js";
import { nextField, workings } from "./workings.js";

window.htmx = htmx;
Alpine.data("sketch", sketch);
Alpine.data("lines", lines);
Alpine.data("player", player);
window.Alpine = Alpine;
Alpine.start();
changes();
hand();
kept();
keys();
nest();
strokes();
workings();
nextField();
