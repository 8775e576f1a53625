// One thing in hand: what is picked on the drawing opens on the bench sheet, and the others are put away meanwhile.
const take = ({ dataset: { pick: name, focus } }) => {
  const input = focus && document.querySelector(`.drawing [data-field="${CSS.escape(focus)}"]`);
  if (input?.getBoundingClientRect().height > 30) return input.select();
  for (const thing of document.querySelectorAll("details.hand")) thing.open = thing.dataset.hand === name;
  document.querySelector(`details.hand[data-hand="${name}"] summary`)?.focus();
};

const shine = () => {
  const held = document.querySelector("details.hand[open]")?.dataset.hand;
  for (const face of document.querySelectorAll("[data-pick]")) face.classList.toggle("on", face.dataset.pick === held);
};

export const hand = () => {
  document.addEventListener("click", ({ target }) => {
    const picked = target.closest?.("[data-pick]");
    if (picked) take(picked);
  });
  document.addEventListener("keydown", (event) => {
    const picked = (event.key === "Enter" || event.key === " ") && event.target.closest?.("[data-pick]");
    if (picked) { event.preventDefault(); take(picked); }
  });
  document.addEventListener("toggle", shine, true);
  document.addEventListener("htmx:afterSettle", shine);
};
