// Two taps on a site sheet's sketch are a stroke: its points go into the form and are sent as if typed.
export function strokes() {
  let first = null;
  document.addEventListener("click", (event) => {
    const svg = event.target.closest?.("svg[data-sketch]"), form = document.getElementById("stroke");
    if (!svg || !form) return;
    const scale = Number(svg.dataset.sketch);
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    const at = [point.x / scale, point.y / scale].map((value) => String(Math.max(0, Math.round(value))));
    const put = (x, y, [a, b]) => { form.elements[x].value = a; form.elements[y].value = b; };
    if (!first) {
      first = at;
      put("x0", "y0", at);
      svg.insertAdjacentHTML("beforeend", `<circle class="tapped" cx="${point.x}" cy="${point.y}" r="6"/>`);
      return;
    }
    first = null;
    put("x1", "y1", at);
    form.requestSubmit();
  });
}
