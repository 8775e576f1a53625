// Entries that wait to be sent, kept on this device: one queue a person, in the order they were made. An entry is put in
// before it is sent and goes only when the server has taken it, or when whoever made it lets it go.
//
// {id, who, key, action, fields, group, said, at, state, why, tries}; state: waiting | refused. What belongs to the
// same group (a piece at the brake, a thing measured) waits behind one that is refused; the rest does not.
import { openDB } from "idb";

const NAME = "dorvan", ENTRIES = "entries", LEASES = "leases", OLD = "dorvan-kept", LEASE = 15000;
let opened = null;

function shelf() {
  opened ??= openDB(NAME, 1, {
    upgrade(db) {
      db.createObjectStore(ENTRIES, { keyPath: "id", autoIncrement: true }).createIndex("who", "who");
      db.createObjectStore(LEASES);
    },
    terminated() { opened = null; },
  }).then(takeOver);
  return opened;
}

// What earlier versions kept elsewhere.
async function takeOver(db) {
  const old = JSON.parse(localStorage.getItem(OLD) || "[]");
  for (const { action, fields, who } of old) {
    await db.add(ENTRIES, { who, key: new Map(fields).get("key") || newKey(), action, fields, group: action, said: "entry", at: Date.now(), state: "waiting", why: "", tries: 0 });
  }
  localStorage.removeItem(OLD);
  return db;
}

// Random bytes are there on every address; crypto.randomUUID is not where the shop is served without TLS.
export function newKey() {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6] & 0x0f) | 0x40; bytes[8] = (bytes[8] & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}

export const all = async () => (await shelf()).getAll(ENTRIES);
export const own = async (who) => (await shelf()).getAllFromIndex(ENTRIES, "who", who);

// Adds an entry; one of the same key takes its place, since the same card was sent twice.
export async function put(entry) {
  const step = (await shelf()).transaction(ENTRIES, "readwrite");
  let id = null;
  for (const other of await step.store.index("who").getAll(entry.who)) if (other.key === entry.key) id = other.id;
  const kept = { at: Date.now(), state: "waiting", why: "", tries: 0, ...entry };
  id = await step.store.put(id === null ? kept : { ...kept, id });
  await step.done;
  return id;
}

export async function change(id, what) {
  const step = (await shelf()).transaction(ENTRIES, "readwrite");
  const entry = await step.store.get(id);
  if (entry) await step.store.put({ ...entry, ...what });
  await step.done;
}

export const drop = async (id) => (await shelf()).delete(ENTRIES, id);

// The next to be sent: the first that waits and stands behind none that is refused.
export function next(entries) {
  const held = new Set();
  for (const entry of entries) {
    if (entry.state === "refused") held.add(entry.group);
    else if (!held.has(entry.group)) return entry;
  }
  return null;
}

// One tab of this device at a time sends for a person: by the browser's locks, or where an address without TLS has none,
// by a lease in the database that runs out.
export async function alone(who, work) {
  const name = `dorvan-sends-${who}`;
  if (navigator.locks) return navigator.locks.request(name, { ifAvailable: true }, (lock) => lock && work());
  const db = await shelf(), mine = newKey();
  const take = async () => {
    const step = db.transaction(LEASES, "readwrite"), held = await step.store.get(name);
    const free = !held || held.mine === mine || held.until < Date.now();
    if (free) await step.store.put({ mine, until: Date.now() + LEASE }, name);
    await step.done;
    return free;
  };
  if (!(await take())) return undefined;
  const renew = setInterval(take, LEASE / 3);
  try { return await work(); } finally { clearInterval(renew); await db.delete(LEASES, name); }
}
