// What is typed at the brake, at the bench or on site is never lost: every such form is put into this device's queue and
// sent from there, under whoever made it and nobody else, in order. The server takes each key once.
import { all, alone, change, drop, newKey, next, own, put } from "./queue.js";
import { show } from "./waiting.js";

const EVERY = 4000, PACE = 150, MOST_TRIES = 5;
const who = () => document.body.dataset.who || "";

const token = () => document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] || document.querySelector("[name=csrfmiddlewaretoken]")?.value || "";

async function told() { show(who(), await all()); }

// What is sent: a form with a photograph in it as a form of files is, any other as words.
function bodyOf(fields) {
  if (fields.every(([, value]) => typeof value === "string")) return new URLSearchParams(fields);
  const body = new FormData();
  for (const [name, value] of fields) body.append(name, value);
  return body;
}

// {next} where the server took it, {why, page} where it refuses it, {again} where it failed; {away} where it does not
// answer or somebody else is signed in.
async function send({ action, fields, key }) {
  let answer;
  try {
    answer = await fetch(action, { method: "POST", body: bodyOf(fields), redirect: "manual",
      headers: { "X-CSRFToken": token(), "X-Kept-By": encodeURIComponent(who()), "X-Kept-Key": key } });
  } catch { return { away: true }; }
  if (answer.status === 204) return { next: answer.headers.get("X-Next") || "" };
  if (answer.status === 401 || answer.type === "opaqueredirect") return { away: true };
  const page = await answer.text();
  if (answer.status >= 500 || answer.status === 429) return { again: `the server answered ${answer.status}` };
  const problem = new DOMParser().parseFromString(page, "text/html").querySelector(".problem");
  return { why: problem?.textContent.replace(/\s+/g, " ").trim() || `the server answered ${answer.status}`, page };
}

let here = null; // the entry that a person is looking at on this page: {id, many}

// Sends what waits, until there is nothing more or the server is away; of the entry that is looked at gives back what
// became of it, whatever comes of those behind it.
async function empty() {
  let found = null;
  await alone(who(), async () => {
    for (let entry = next(await own(who())); entry; entry = next(await own(who()))) {
      const answer = await send(entry);
      if (answer.away) break;
      if (answer.again && entry.tries + 1 < MOST_TRIES) { await change(entry.id, { tries: entry.tries + 1 }); break; }
      if (entry.id === here?.id) found = answer;
      if (answer.next !== undefined) await drop(entry.id);
      else await change(entry.id, { state: "refused", why: answer.why || answer.again, tries: 0 });
      await new Promise((on) => setTimeout(on, entry.id === here?.id ? 0 : PACE)); // others are at work meanwhile
    }
  });
  return found;
}

async function quietly() {
  if (!who()) return;
  const before = (await own(who())).length;
  if (before && follow(await empty())) return;
  if (here && !(await own(who())).some(({ id }) => id === here.id)) { follow({ next: "" }); return; } // another tab sent it
  if (before || (await all()).length || document.getElementById("kept-here")?.hidden === false) await told();
}

// On to where an entry leads, if it was taken; whether the page is left.
function follow(answer) {
  if (answer?.next === undefined) return false;
  if (answer.next && !here?.many) location.assign(answer.next); else location.reload();
  here = null;
  return true;
}

function entryOf(form, button) {
  const fields = [...new FormData(form, button)].filter(([name, value]) => name !== "csrfmiddlewaretoken" && (typeof value === "string" || value.size));
  let key = new Map(fields).get("key");
  if (!key) { key = form.dataset.keptKey ??= newKey(); }
  const said = form.dataset.said || `${document.querySelector("h1")?.textContent.replace(/\s+/g, " ").trim() || document.title}`;
  return { who: who(), key, action: form.action, fields, group: form.dataset.kept || form.action, said: said.slice(0, 120) };
}

// Where a device keeps nothing (no room for a photograph, a private window), the form goes as any other does.
function plainly(form, button) {
  if (button?.name) form.append(Object.assign(document.createElement("input"), { type: "hidden", name: button.name, value: button.value }));
  form.submit();
}

// A form is made ready for the next reading; one that goes through several (strips) counts on to the next of them.
function emptied(form) {
  form.reset();
  delete form.dataset.keptKey;
  const key = form.elements.namedItem("key"), counter = form.elements.namedItem(form.dataset.counts || "");
  if (key) key.value = newKey();
  if (!counter || Number(counter.value) >= Number(form.dataset.upto)) return;
  const next = counter.value = Number(counter.value) + 1;
  for (const name of ["kept", "said"]) form.dataset[name] = form.dataset[name].replace(/\d+$/, next);
  for (const shown of form.querySelectorAll("[data-count]")) shown.textContent = next;
}

async function submitted(form, button) {
  let id = null;
  try { id = await put(entryOf(form, button)); } catch { plainly(form, button); return; }
  const many = form.dataset.many !== undefined;
  if (many || form.dataset.counts) emptied(form);
  await looked({ id, many });
}

// What became of an entry that its author looks at right now: on to where it leads, or the page that refuses it.
async function looked(entry) {
  here = entry;
  const answer = await empty();
  if (follow(answer)) return;
  if (answer?.page) { // refused while he looks: the page says where, and what was typed stands in it
    here = null;
    await drop(entry.id);
    document.open(); document.write(answer.page); document.close();
    return;
  }
  await told();
}

export function kept() {
  document.addEventListener("submit", (event) => {
    const form = event.target.closest?.("form[data-kept]");
    if (!form || !who() || !window.indexedDB) return;
    event.preventDefault();
    submitted(form, event.submitter);
  });
  document.addEventListener("click", async (event) => {
    const button = event.target.closest?.("[data-entry]");
    if (!button) return;
    const id = Number(button.dataset.entry);
    if (button.dataset.do === "look") { await change(id, { state: "waiting", why: "", tries: 0 }); await looked({ id }); return; }
    if (button.dataset.do === "drop" && button.dataset.sure) await drop(id);
    else if (button.dataset.do === "drop") { button.dataset.sure = "1"; button.textContent = "Sure? It is gone then"; return; }
    await quietly();
    await told();
  });
  window.addEventListener("online", quietly);
  setInterval(quietly, EVERY);
  quietly();
}
