// The keyboard: stages, units, working, undo, the list of keys.
const press = (id) => document.getElementById(id)?.click();

export function keys() {
  document.addEventListener("keydown", (event) => {
    const typing = event.target.closest?.("input:not([type=range]), select, textarea, dialog");
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !typing) {
      event.preventDefault();
      press(event.shiftKey ? "redo" : "undo");
      return;
    }
    if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
    if (/^[1-9]$/.test(event.key)) document.querySelector(`.ruler [data-key="${event.key}"]`)?.click();
    else if (event.key === "u") press("units");
    else if (event.key === "?") press("ask");
    else if (event.key === "w") document.dispatchEvent(new CustomEvent("working"));
    else if (event.key === "f" || event.key === "r") document.dispatchEvent(new CustomEvent("turn", { detail: event.key }));
    else if (event.key === "ArrowRight" || event.key === "ArrowLeft") document.dispatchEvent(new CustomEvent("step", { detail: event.key === "ArrowRight" ? 1 : -1 }));
    else if (event.key === " " && !event.target.closest("button, a")) { event.preventDefault(); press("play"); }
  });
  document.addEventListener("step", (event) => {
    const on = document.querySelector("a.frame.on");
    const next = event.detail > 0 ? on?.nextElementSibling : on?.previousElementSibling;
    if (next?.href) next.click();
  });
  document.addEventListener("click", (event) => { if (event.target.closest("[data-print]")) window.print(); });
}
