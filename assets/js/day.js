// A task dragged along its row, or onto another: what is sent is the minute it is to begin at, the person or the brake. The rest
// is planned by the server.
const STILL = 8; // a drag no longer than this along a row changes no time, pixels

export function day() {
  let held = null;
  const form = () => document.getElementById("put");
  const at = (svg, event) => new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  const lane = (svg, y) => [...svg.querySelectorAll(".lane")].find((one) => {
    const top = Number(one.getAttribute("y"));
    return y >= top && y < top + Number(one.getAttribute("height"));
  });

  document.addEventListener("pointerdown", (event) => {
    const bar = event.target.closest?.("[data-board] [data-task]");
    if (!bar || !form()) return;
    const from = at(bar.ownerSVGElement, event);
    held = { bar, svg: bar.ownerSVGElement, from, by: 0, row: lane(bar.ownerSVGElement, from.y), onto: null };
    form().elements.task.value = bar.dataset.task;
    event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const now = at(held.svg, event);
    held.by = now.x - held.from.x;
    held.onto?.classList.remove("over");
    held.onto = lane(held.svg, now.y);
    if (held.onto === held.row) held.onto = null;
    held.onto?.classList.add("over");
    held.bar.setAttribute("transform", `translate(${held.by} ${now.y - held.from.y})`);
  });
  document.addEventListener("pointerup", () => {
    if (!held) return;
    const { bar, svg, by, onto } = held;
    held = null;
    bar.removeAttribute("transform");
    onto?.classList.remove("over");
    if (Math.abs(by) < 3 && !onto) return;
    const put = form().elements;
    const start = Math.max(0, Math.round(Number(bar.dataset.start) + by / Number(svg.dataset.board)));
    put.at.value = put.by.value = put.brake.value = "";
    put.minute.value = onto && Math.abs(by) < STILL ? "" : String(start);
    if (onto) put[svg.dataset.lanes].value = onto.dataset.row;
    form().requestSubmit(form().querySelector("[name=put]"));
  });
}
