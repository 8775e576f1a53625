// One change of the part: an input that was changed or a button that was pressed is sent with its field or
// action, and the bench is drawn anew. One listener for the page, so that a redraw costs no set-up.
// A field changed while another is being set waits its turn, or until the one before it is right. A button
// pressed meanwhile does nothing: it was drawn for the part as it was.
import htmx from "htmx.org";
import { whileSetting } from "./redraw.js";

let waiting = [], sending = null, held = false;
let drawn = false; // whether the answer to what is being sent is on the page

async function run() {
  for (held = false; waiting.length && !held;) {
    sending = waiting.shift();
    drawn = false;
    const { typed, ...values } = sending;
    delete typed?.dataset.waits;
    const bench = document.getElementById("bench");
    const post = () => htmx.ajax("POST", bench.dataset.change, { source: bench, values });
    try { await whileSetting(typed && values.field, post); }
    catch { held = true; } // said below; a typed text stays in its field, to be sent again
    sending = null;
  }
}

function take(change) {
  if (sending) {
    const again = sending.field === change.field && sending.value === change.value; // as the field is left
    if (again || !sending.typed || !change.typed) return;
    change.typed.dataset.waits = "";
  }
  const others = waiting.filter(({ field }) => change.typed && field !== change.field);
  waiting = sending ? [...others, change] : [change, ...others];
  if (!sending) run();
}

export function changes() {
  document.addEventListener("htmx:afterSwap", ({ detail }) => { drawn ||= detail.target?.id === "bench"; });
  document.addEventListener("htmx:afterRequest", ({ detail }) => {
    if (detail.elt.id === "bench" && detail.xhr.status >= 400) held = true;
    else if (detail.target?.id === "bench" && !sending) waiting = []; // a form of its own drew the bench anew
  });
  document.addEventListener("change", (event) => {
    const input = event.target.closest?.("#bench[data-change] :is(input, select)[data-field]");
    if (!input) return;
    const { value, defaultValue, dataset: { field } } = input;
    // A field put back while it is being set is a change; one that the answer wrote otherwise (6 as 6.0) is none.
    if (value !== defaultValue || (field === sending?.field && !drawn)) take({ field, value, typed: input });
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("#bench[data-change] button:is([data-field], [data-action])");
    if (!button) return;
    const { field, action, index } = button.dataset;
    const typed = button.matches(".same") ? document.querySelector(`.measures input[data-field="${CSS.escape(field)}"]`) : undefined;
    const given = { field, action, index, value: action ? undefined : button.value, typed };
    take(Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)));
  });
  // A change that got no answer, or a broken one, is said; what was typed stays in its field.
  const lost = (is) => { const note = document.getElementById("no-answer"); if (note) note.hidden = !is; };
  for (const name of ["htmx:sendError", "htmx:responseError"]) document.addEventListener(name, () => lost(true));
  document.addEventListener("htmx:beforeSwap", ({ detail }) => { if (detail.shouldSwap) lost(false); });
}
