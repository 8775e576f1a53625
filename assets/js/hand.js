// One thing in hand: what is picked on the drawing opens on the bench sheet, and the others are put away meanwhile.
export const hand = () => {
  const take = (name) => {
    for (const thing of document.querySelectorAll("details.hand")) thing.open = thing.dataset.hand === name;
    document.querySelector(`details.hand[data-hand="${name}"] summary`)?.focus();
  };
  document.addEventListener("click", ({ target }) => {
    const picked = target.closest?.("[data-pick]");
    if (picked) take(picked.dataset.pick);
  });
  document.addEventListener("keydown", (event) => {
    const picked = (event.key === "Enter" || event.key === " ") && event.target.closest?.("[data-pick]");
    if (picked) { event.preventDefault(); take(picked.dataset.pick); }
  });
};
