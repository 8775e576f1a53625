// A task dragged along its row: where it is let go is sent as the minute it is to begin at. The rest is planned by the server.
export function day() {
  let held = null;
  const form = () => document.getElementById("put");
  const at = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse()).x;

  document.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest?.("[data-board] [data-task]");
    if (!bar || !form()) return;
    held = { bar, svg: bar.ownerSVGElement, from: at(bar.ownerSVGElement, event), by: 0 };
    form().elements.task.value = bar.dataset.task;
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    held.by = at(held.svg, event) - held.from;
    held.bar.setAttribute("transform", `translate(${held.by} 0)`);
  });
  document.addEventListener("pointerup", () => {
    if (!held) return;
    const { bar, svg, by } = held;
    held = null;
    if (Math.abs(by) < 3) return bar.removeAttribute("transform");
    form().elements.at.value = "";
    form().elements.minute.value = String(Math.max(0, Math.round(Number(bar.dataset.start) + by / Number(svg.dataset.board))));
    form().requestSubmit(form().querySelector("[name=put]"));
  });
}
