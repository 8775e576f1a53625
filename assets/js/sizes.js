// Sizes of a brake: the one in hand is lit on the drawing; a press on its dimension leads to its row.
export const sizes = () => {
  document.addEventListener("focusin", ({ target }) => {
    const name = target.closest?.(".measuring [data-field]")?.dataset.field;
    for (const span of document.querySelectorAll(".measuring [data-span]")) span.classList.toggle("on", span.dataset.span === name);
  });
  document.addEventListener("keydown", (event) => { // a size that measures what its start value says
    const { target, key } = event;
    if (key !== "Enter" || !target.matches?.(".measuring input[data-field]") || target.value !== target.defaultValue) return;
    document.querySelector(`.same[data-field="${CSS.escape(target.dataset.field)}"]`)?.click();
  });
  document.addEventListener("click", ({ target }) => {
    const name = target.closest?.(".measuring [data-span]")?.dataset.span;
    if (name) document.querySelector(`.measures [data-field="${CSS.escape(name)}"]`)?.select();
  });
};
