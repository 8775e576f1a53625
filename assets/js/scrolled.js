// What is wider than its room scrolls in itself (tables on a phone): then it can be reached and moved by keyboard.
const BOXES = ".table, .scroll:not([role])";

function reach() {
  for (const box of document.querySelectorAll(BOXES)) {
    if (box.scrollWidth > box.clientWidth + 1 && getComputedStyle(box).overflowX !== "visible") box.tabIndex = 0;
    else box.removeAttribute("tabindex");
  }
}

export function scrolled() {
  reach();
  addEventListener("resize", reach);
  document.addEventListener("htmx:afterSettle", reach);
  document.addEventListener("toggle", reach, true);
}
