// What is ticked at the brake is never lost: while the server does not answer, an entry is kept on this tablet under
// the key its card was given, and sent as soon as it answers again. The server keeps each key once. Entries are sent
// only by whom they were made.
const SHELF = "dorvan-kept", EVERY = 4000, PACE = 300;

const shelf = () => JSON.parse(localStorage.getItem(SHELF) || "[]");
const keep = (entries) => localStorage.setItem(SHELF, JSON.stringify(entries));
const who = () => document.body.dataset.who || "";

function say(words) {
  const note = document.getElementById("kept-here");
  if (note) { note.hidden = !words; note.textContent = words; }
}

function told() {
  const waiting = shelf(), other = waiting.find((entry) => entry.who !== who());
  const count = `▲ Kept on this tablet: ${waiting.length} ${waiting.length > 1 ? "entries" : "entry"}`;
  say(!waiting.length ? "" : other ? `${count} by ${other.who}, to be sent when ${other.who} is signed in here.`
    : `${count}. Dorvan does not answer, or you were signed out; sent as soon as it does.`);
}

// The address to go on to; throws while the entry must still be kept, and shows the page that refuses it.
async function send({ action, fields }) {
  const token = document.querySelector("[name=csrfmiddlewaretoken]")?.value || "";
  const answer = await fetch(action, { method: "POST", body: new URLSearchParams(fields), headers: { "X-CSRFToken": token } });
  if (answer.status >= 500 || answer.status === 403 || answer.url.includes("/people/sign-in/")) throw new Error("not taken");
  if (answer.redirected) return answer.url;
  const page = await answer.text();
  document.open(); document.write(page); document.close();
  return null;
}

let emptying = false;

async function empty() {
  if (emptying || !shelf().length || shelf()[0].who !== who()) return;
  emptying = true;
  try {
    let next = null;
    while (shelf().length) {
      next = await send(shelf()[0]);
      keep(shelf().slice(1));
      if (!next) return;
      if (shelf().length) await new Promise((on) => setTimeout(on, PACE)); // others are at work meanwhile
    }
    say("✓ Sent what was kept on this tablet.");
    setTimeout(() => location.assign(next), 800);
  } catch { told(); } finally { emptying = false; }
}

export function kept() {
  document.addEventListener("submit", async (event) => {
    const form = event.target.closest?.("form[data-kept]");
    if (!form) return;
    event.preventDefault();
    const fields = [...new FormData(form)].filter(([name]) => name !== "csrfmiddlewaretoken");
    const entry = { action: form.action, fields, who: who() };
    try {
      if (shelf().length) throw new Error("others wait before it");
      const next = await send(entry);
      if (next) location.assign(next);
    } catch {
      const key = new Map(fields).get("key");
      keep([...shelf().filter((other) => new Map(other.fields).get("key") !== key), entry]);
      told();
      empty();
    }
  });
  window.addEventListener("online", empty);
  setInterval(empty, EVERY);
  if (shelf().length) told();
}
