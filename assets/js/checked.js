// A check sheet and the part drawn beside it: the row in hand is lit in both, a line leads to its row.

const lit = (name) => {
  for (const one of document.querySelectorAll("[data-dim], [data-of]")) {
    one.classList.toggle("lit", (one.dataset.dim ?? one.dataset.of) === name);
  }
  const row = document.querySelector(`[data-of="${CSS.escape(name)}"]`);
  const said = document.querySelector("[data-checked] [data-lit]");
  if (said && row) {
    const [title, nominal] = row.cells;
    said.replaceChildren(`${title.innerText.trim()}: `, ...[...nominal.childNodes].map((node) => node.cloneNode(true)));
  }
  return row;
};

export const checked = () => {
  document.addEventListener("focusin", ({ target }) => {
    const row = target.closest?.("[data-of]");
    if (row) lit(row.dataset.of);
  });
  document.addEventListener("click", ({ target }) => {
    const [line, row] = [target.closest?.("[data-dim]"), target.closest?.("[data-of]")];
    if (line) {
      const own = lit(line.dataset.dim);
      own?.scrollIntoView({ block: "nearest" });
      own?.querySelector("input, select")?.focus({ preventScroll: true });
    } else if (row) {
      lit(row.dataset.of);
    }
  });
};
