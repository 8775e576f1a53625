// What waits on this device, shown to whoever is signed in: his own entries with their state, of others how many.
const TIME = new Intl.DateTimeFormat([], { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

function part(tag, words, attributes = {}) {
  const made = document.createElement(tag);
  made.textContent = words;
  for (const [name, value] of Object.entries(attributes)) made.setAttribute(name, value);
  return made;
}

function row(entry, held) {
  const refused = entry.state === "refused";
  const line = part("li", "", { class: "kept-entry" });
  line.append(part("b", refused ? "■ Refused" : held ? "▲ Waits for the one before it" : "▲ Waits to be sent"));
  line.append(part("span", ` ${TIME.format(entry.at)} ${entry.said}`));
  if (entry.why) line.append(part("p", entry.why));
  if (refused) {
    line.append(part("button", "Show", { type: "button", class: "small", "data-entry": entry.id, "data-do": "look" }));
    line.append(part("button", "Discard", { type: "button", class: "small", "data-entry": entry.id, "data-do": "drop" }));
  }
  return line;
}

export function show(who, entries) {
  const note = document.getElementById("kept-here");
  if (!note) return;
  const mine = entries.filter((entry) => entry.who === who), others = new Map(), held = new Set();
  for (const entry of entries) if (entry.who !== who) others.set(entry.who, (others.get(entry.who) || 0) + 1);
  note.hidden = !entries.length;
  const sum = note.querySelector("summary span"), list = note.querySelector("ul");
  const refused = mine.filter((entry) => entry.state === "refused").length;
  const words = mine.length ? [`▲ Kept on this device: ${mine.length} ${mine.length > 1 ? "entries" : "entry"}`] : [];
  if (refused) words.push(`${refused} refused: look at ${refused > 1 ? "them" : "it"}`);
  else if (mine.length) words.push("Dorvan does not answer; sent as soon as it does");
  for (const [name, count] of others) words.push(`${mine.length || words.length ? "" : "▲ Kept on this device: "}${count} by ${name}, sent when ${name} is signed in here`);
  sum.textContent = words.join(". ");
  list.replaceChildren(...mine.map((entry) => {
    const line = row(entry, held.has(entry.group));
    if (entry.state === "refused") held.add(entry.group);
    return line;
  }));
  if (refused) note.open = true;
}
