// Opening the working of a figure, and going from field to field with Enter.
export function workings() {
  const panel = () => document.getElementById("workings");
  let opener = null, picked = null;
  const articles = () => panel().querySelector("[data-articles]");
  const mark = () => { for (const article of articles().children) article.classList.toggle("picked", article.id === `w-${picked}`); };
  const load = async () => {
    const answer = await fetch(panel().dataset.src);
    if (answer.ok) articles().innerHTML = await answer.text();
    mark();
  };
  const show = async (key) => {
    const aside = panel();
    if (!aside) return;
    aside.hidden = false;
    picked = key;
    if (articles().childElementCount) mark(); else await load();
    aside.querySelector(".picked")?.scrollIntoView({ block: "start" });
    aside.focus();
  };
  const close = () => { const aside = panel(); if (aside) aside.hidden = true; opener?.focus(); };
  document.addEventListener("click", (event) => {
    const figure = event.target.closest("[data-working]");
    if (figure) { opener = figure; show(figure.dataset.working); }
    if (event.target.closest("[data-close-workings]")) close();
  });
  document.addEventListener("working", () => {
    const aside = panel();
    if (!aside) return;
    if (aside.hidden) { opener = document.activeElement; show(document.activeElement?.dataset?.working); } else close();
  });
  // The part is another now: what is open is read again, what is closed when it is opened.
  document.addEventListener("htmx:afterSettle", ({ target }) => {
    if (target.id !== "bench" || !panel()) return;
    if (panel().hidden) articles().replaceChildren(); else load();
  });
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && panel() && !panel().hidden) close(); });
}

// Enter takes what was typed and goes to the next field; after a redraw the focus is put back by its label.
export function nextField() {
  let wanted = null;
  const all = () => [...document.querySelectorAll("#bench [data-next]:not([disabled])")];
  const shown = (input) => input.getClientRects().length > 0;
  const name = (input) => input.getAttribute("aria-label") || input.dataset.field || input.id;
  document.addEventListener("keydown", (event) => {
    const input = event.target.closest?.("[data-next]");
    if (!input || event.key !== "Enter") return;
    const fields = all();
    const next = fields.slice(fields.indexOf(input) + 1).find(shown);
    wanted = next ? name(next) : name(input);
    if (input.dataset.field) {
      event.preventDefault();
      if (input.value !== input.defaultValue) input.dispatchEvent(new Event("change", { bubbles: true }));
      else { next?.focus(); next?.select?.(); wanted = null; }
    } else if (!input.closest("form").hasAttribute("hx-post")) {
      const last = !next || next.form !== input.form;
      if (!last) { event.preventDefault(); next.focus(); next.select?.(); }
    } else if (input.value === input.defaultValue) { event.preventDefault(); next?.focus(); next?.select?.(); wanted = null; }
  });
  document.addEventListener("focusin", (event) => { if (event.target.matches?.(".tap input")) event.target.select(); });
  document.addEventListener("htmx:beforeSwap", () => {
    const here = document.activeElement;
    if (!wanted && here?.matches?.("#bench [data-next]")) wanted = name(here);
  });
  document.addEventListener("htmx:afterSettle", () => {
    const bad = document.querySelector("#bench [aria-invalid=true]");
    const target = bad || (wanted && all().find((field) => name(field) === wanted && shown(field))); // asked of few: it lays the page out
    const here = document.activeElement;
    const typing = here?.matches?.("#bench input[data-field]") && here.value !== here.defaultValue;
    wanted = null;
    if (target && !typing) { target.focus(); target.select?.(); }
    document.documentElement.dataset.redrawn = String(performance.now());
  });
}
