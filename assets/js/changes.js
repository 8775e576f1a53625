// One change of the part: an input that was changed or a button that was pressed is sent with its field
// or action, and the bench is drawn anew. One listener for the page, so that a redraw costs no set-up.
import htmx from "htmx.org";

let sending = false;

async function send(source, values) {
  const bench = source.closest("#bench");
  if (!bench?.dataset.change || sending) return;
  sending = true;
  try {
    await htmx.ajax("POST", bench.dataset.change, {
      source: bench, target: "#bench", swap: "outerHTML", values: { stage: bench.dataset.stage, ...values },
    });
  } finally { sending = false; }
}

export function changes() {
  document.addEventListener("change", (event) => {
    const input = event.target.closest?.("input[data-field], select[data-field]");
    if (input) send(input, { field: input.dataset.field, value: input.value });
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest?.("button[data-field], button[data-action]");
    if (!button) return;
    const { field, action, index, side, rim, end } = button.dataset;
    const given = { field, action, index, side, rim, end, value: field ? button.value : undefined };
    send(button, Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)));
  });
}
