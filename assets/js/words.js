// Any word of the glossary can be asked for where it stands: ? marks those on the page and lists them; a tap on one, or
// its button in the list, says what it means. Nothing of the page is changed: the marks are the browser's own.
let terms = null, ranges = [];

const panel = () => document.getElementById("asked");
const known = async () => {
  if (terms) return terms;
  const answer = await fetch(panel().dataset.src);
  if (!answer.ok) return [];
  const rows = (await answer.json()).terms.flatMap(({ names, means }) => names.map((name) => ({ name, means })));
  rows.sort((a, b) => b.name.length - a.name.length); // bend line before bend
  terms = rows.map((row) => ({ ...row, found: pattern(row.name) }));
  return terms;
};

// Whole words, one or many of them; single letters as they are written.
function pattern(name) {
  const plain = name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  return new RegExp(`(?<![\\p{L}\\d])${plain}(?:s|es)?(?![\\p{L}\\d])`, name.length > 2 ? "giu" : "gu");
}

// What stands on the page: {range, name, means}, longer words first where two lie on each other.
function onPage(rows) {
  const found = [];
  const walk = document.createTreeWalker(document.getElementById("main"), NodeFilter.SHOW_TEXT);
  for (let node = walk.nextNode(); node; node = walk.nextNode()) {
    const { data, parentElement } = node;
    if (!data.trim() || !parentElement.getClientRects().length || parentElement.closest("title, script, style, option")) continue;
    const taken = [];
    for (const row of rows) {
      for (const match of data.matchAll(row.found)) {
        const from = match.index, to = from + match[0].length;
        if (taken.some(([a, b]) => from < b && a < to)) continue;
        taken.push([from, to]);
        const range = new Range();
        range.setStart(node, from);
        range.setEnd(node, to);
        found.push({ ...row, range });
      }
    }
  }
  return found;
}

function say({ name, means }) {
  const word = document.createElement("b");
  word.textContent = name;
  panel().querySelector(".asked-means").replaceChildren(word, ` ${means}`);
  for (const button of panel().querySelectorAll("[data-term]")) button.setAttribute("aria-pressed", button.dataset.term === name);
}

function close() {
  panel().hidden = true;
  ranges = [];
  CSS.highlights?.delete("asked");
  const ask = document.getElementById("ask");
  ask.setAttribute("aria-expanded", "false");
  ask.focus();
}

async function open() {
  const rows = await known();
  ranges = onPage(rows);
  const names = [...new Map(ranges.map((one) => [one.name, one])).values()].sort((a, b) => a.name.localeCompare(b.name));
  panel().querySelector(".asked-terms").replaceChildren(...names.map((one) => {
    const button = document.createElement("button");
    Object.assign(button, { type: "button", className: "small", textContent: one.name });
    button.dataset.term = one.name;
    button.addEventListener("click", () => say(one));
    return button;
  }));
  panel().querySelector(".asked-means").textContent = names.length ? "" : "None of the words of the glossary stands here.";
  if (CSS.highlights) CSS.highlights.set("asked", new Highlight(...ranges.map((one) => one.range)));
  document.getElementById("ask").setAttribute("aria-expanded", "true");
  panel().hidden = false;
  panel().focus();
}

const under = ({ clientX: x, clientY: y }) => ranges.find((one) => [...one.range.getClientRects()]
  .some((box) => x >= box.left - 4 && x <= box.right + 4 && y >= box.top - 6 && y <= box.bottom + 6));

export function words() {
  document.addEventListener("click", (event) => {
    if (!panel()) return;
    if (event.target.closest?.("#ask")) { if (panel().hidden) open(); else close(); return; }
    const act = event.target.closest?.("[data-asked]")?.dataset.asked;
    if (act === "close") close();
    if (act === "keys") { close(); document.getElementById("keys")?.showModal(); }
  });
  // While words are asked for, a tap on one says it and does nothing else.
  document.addEventListener("click", (event) => {
    const one = ranges.length && !event.target.closest?.("#asked, .rail") && under(event);
    if (!one) return;
    event.preventDefault();
    event.stopPropagation();
    say(one);
  }, true);
  document.addEventListener("keydown", (event) => { if (event.key === "Escape" && panel() && !panel().hidden) close(); });
  document.addEventListener("htmx:afterSettle", () => { if (ranges.length) open(); });
}
