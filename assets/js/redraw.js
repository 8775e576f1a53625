// How a bench that was drawn anew comes into the page: what has not changed stays as it is. So the browser has
// little to paint, details that a person opened stay open, and a text typed meanwhile into another field is kept.
import { Idiomorph } from "idiomorph/htmx";

let setting = null; // the field that is being set, if it is one field and not another kind of change

export async function whileSetting(field, send) {
  setting = field;
  try { return await send(); } finally { setting = null; }
}

const summary = (details) => details.querySelector("summary")?.textContent;
const isOnItsWay = ({ localName, dataset, value, defaultValue }) => setting && dataset.field && dataset.field !== setting
  && (localName === "select" ? "waits" in dataset : localName === "input" && value !== defaultValue);

// What was typed or picked in a part of the page that is as it was gives way to what the server says.
function reset(node) {
  for (const field of [node, ...node.querySelectorAll("input, option")]) {
    if (field.localName === "option") field.selected = field.defaultSelected;
    else if (field.localName === "input" && field.type !== "file" && !isOnItsWay(field)) field.value = field.defaultValue;
  }
}

// What a drawing consists of by the hundred, all alike: none is looked for among the others. As many as there were are
// the same ones, elsewhere; else they come anew.
function redrawn(old, made) {
  const before = [...old.children], after = [...made.children];
  if (before.length !== after.length || before.some((one, n) => one.localName !== after[n].localName)) {
    old.replaceChildren(...made.childNodes);
    return;
  }
  before.forEach((one, n) => {
    for (const { name, value } of after[n].attributes) if (one.getAttribute(name) !== value) one.setAttribute(name, value);
    for (const { name } of [...one.attributes]) if (!after[n].hasAttribute(name)) one.removeAttribute(name);
    if (one.textContent !== after[n].textContent) one.textContent = after[n].textContent;
  });
}

Object.assign(Idiomorph.defaults.callbacks, {
  // The answer leaves out what the page shows already, among things that have a name each; if the page does not show
  // it after all, it is fetched whole.
  beforeNodeAdded(made) {
    if (made.dataset && "same" in made.dataset) location.reload();
  },
  // Style, and what is bound to an expression, is Alpine's.
  beforeAttributeUpdated(name, node) {
    return name !== "style" && !node.hasAttribute(`x-bind:${name}`);
  },
  beforeNodeMorphed(old, made) {
    if (old.nodeType !== Node.ELEMENT_NODE) return true;
    if ("same" in made.dataset && old.id !== made.id) location.reload();
    if ("same" in made.dataset || old.isEqualNode(made)) { reset(old); return false; }
    if ("whole" in made.dataset) { redrawn(old, made); return false; }
    if (isOnItsWay(old) && old.dataset.field === made.dataset.field) return false;
    if (old.open && (old.dataset.hand ? old.dataset.hand === made.dataset.hand : summary(old) === summary(made))) made.open = true;
    const sameMesh = old.matches(".folded[data-ready]") && old.dataset.src === made.dataset.src;
    return !(old.hasAttribute("x-text") || old.id === "workings" || sameMesh);
  },
});
