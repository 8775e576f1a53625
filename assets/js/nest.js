// A blank dragged on its sheet: where it is let go is sent as if it had been typed. Whether it may lie there is worked out by the server.
export function nest() {
  let held = null;
  const form = () => document.getElementById("by-hand");

  function at(svg, event) {
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [point.x, point.y];
  }

  document.addEventListener("pointerdown", (event) => {
    const lies = event.target.closest?.("[data-nest] .lies");
    if (!lies || !form() || lies.ownerSVGElement.dataset.cut) return;
    held = { lies, svg: lies.ownerSVGElement, from: at(lies.ownerSVGElement, event), by: [0, 0] };
    form().elements.piece.value = lies.dataset.piece;
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const [x, y] = at(held.svg, event);
    held.by = [x - held.from[0], y - held.from[1]];
    held.lies.setAttribute("transform", `translate(${held.by[0]} ${held.by[1]})`);
  });
  document.addEventListener("pointerup", () => {
    if (!held) return;
    const { lies, svg, by } = held;
    held = null;
    if (Math.hypot(...by) < 3) return;
    const fields = form().elements, scale = Number(svg.dataset.scale);
    const mm = (value) => `${Math.round(value * 100) / 100} mm`;
    fields.sheet.value = svg.dataset.nest;
    fields.x.value = mm(Number(lies.dataset.x) + by[0] / scale);
    fields.y.value = mm(Number(lies.dataset.y) - by[1] / scale);
    fields.turned.value = lies.dataset.turned;
    form().requestSubmit();
  });
}
