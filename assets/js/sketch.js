// Drawing a strip point to point. Only the pointer is snapped here; legs and bends are made of the points by the server.
const ANGLE = 15;
const RAD = Math.PI / 180;
const GRID = { mm: 1, in: 25.4 / 8 };
const PER = { mm: 1, in: 25.4 };
const LENGTH = /^\s*(?:(\d+(?:[.,]\d+)?)(?:\s+|$|(?=\s*(?:mm|in)\b)))?(?:(\d+)\s*\/\s*([1-9]\d*))?\s*(mm|in)?\s*$/;

/** A typed length in mm, or NaN: 40, 7 7/8, 200 mm. */
export const lengthOf = (text, units) => {
  const [, whole, over, under, unit] = text.match(LENGTH) || [];
  if (!whole && !over) return NaN;
  return (Number((whole || "0").replace(",", ".")) + (over ? over / under : 0)) * PER[unit || units];
};

const eighths = (inches) => {
  const whole = Math.floor(inches + 1e-6), ticks = Math.round((inches - whole) * 8);
  const half = ticks % 4 ? (ticks % 2 ? [ticks, 8] : [ticks / 2, 4]) : [ticks / 4, 2];
  return ticks ? `${whole || ""} ${half[0]}/${half[1]}`.trim() : `${whole}`;
};

export const sketch = () => ({
  drawing: false, points: [], tip: null, wrong: "",
  begin() { this.drawing = !this.drawing; this.points = []; this.tip = null; this.wrong = ""; },
  cancel() { this.drawing = false; this.points = []; },
  back() { this.points = this.points.slice(0, -1); this.tip = null; },
  get units() { return this.$refs.board.dataset.units; },
  get scale() { return Number(this.$refs.board.dataset.scale) / Number(this.$refs.board.dataset.mm); },
  get heading() {
    const [before, last] = this.points.slice(-2);
    return last ? Math.atan2(last.y - before.y, last.x - before.x) : 0;
  },
  at(event) {
    const board = this.$refs.board;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(board.getScreenCTM().inverse());
    const raw = { x: point.x, y: point.y };
    const last = this.points.at(-1);
    if (!last) return raw;
    const base = this.heading, grid = GRID[this.units];
    const turn = Math.round((Math.atan2(raw.y - last.y, raw.x - last.x) - base) / (ANGLE * RAD)) * ANGLE * RAD;
    return this.beyond(last, Math.max(1, Math.round(Math.hypot(raw.x - last.x, raw.y - last.y) / this.scale / grid)) * grid, base + turn);
  },
  beyond(last, mm, heading) {
    return { x: last.x + mm * this.scale * Math.cos(heading), y: last.y + mm * this.scale * Math.sin(heading) };
  },
  press(event) { if (this.drawing) { event.preventDefault(); this.points = [...this.points, this.at(event)]; this.tip = null; this.wrong = ""; } },
  move(event) { if (this.drawing) this.tip = this.at(event); },
  key(event) {
    if (this.drawing && event.key === "Backspace" && !event.target.matches("input")) { event.preventDefault(); this.back(); }
  },
  typed() {
    const mm = lengthOf(this.$refs.length.value, this.units), turn = Number(this.$refs.turn.value.replace(/[°\s]/g, "").replace("−", "-").replace(",", ".") || 0);
    this.wrong = !(mm > 0 && mm < 1e5) ? "is not a length: 40, 7 7/8 or 200 mm" : !(Math.abs(turn) < 179) ? "must turn by less than 179°" : "";
    if (this.wrong) return;
    const last = this.points.at(-1) || { x: 200, y: 300 };
    this.points = [...(this.points.length ? this.points : [last]), this.beyond(last, mm, this.heading - turn * RAD)];
    this.$refs.length.value = "";
    this.$refs.length.focus();
  },
  get path() { return this.points.length ? `M${this.points.map((p) => `${p.x},${p.y}`).join("L")}` : ""; },
  get rubber() { const last = this.points.at(-1); return last && this.tip ? `M${last.x},${last.y}L${this.tip.x},${this.tip.y}` : ""; },
  get tipX() { return this.tip ? this.tip.x + 12 : 0; },
  get tipY() { return this.tip ? this.tip.y - 12 : 0; },
  get size() {
    const last = this.points.at(-1);
    if (!last || !this.tip) return "";
    const mm = Math.hypot(this.tip.x - last.x, this.tip.y - last.y) / this.scale;
    const length = this.units === "in" ? `${eighths(mm / PER.in)} in` : `${mm.toFixed(0)} mm`;
    const turn = Math.round((this.heading - Math.atan2(this.tip.y - last.y, this.tip.x - last.x)) / RAD / ANGLE) * ANGLE;
    const bend = ((turn + 540) % 360) - 180;
    return this.points.length < 2 || !bend ? length : `${length}, ${Math.abs(bend)}° ${bend > 0 ? "up" : "down"}`;
  },
  get hint() {
    if (this.wrong) return `■ What you typed ${this.wrong}.`;
    return this.points.length ? "Tap the next corner, or type it. Backspace takes the last point back. Then press Use this line." : "Tap where the outside of the strip begins, or type its first leg.";
  },
  finish() {
    this.$refs.points.value = JSON.stringify(this.points.map((p) => [p.x / this.scale, -p.y / this.scale]));
    this.$refs.form.dispatchEvent(new Event("drawn"));
    this.cancel();
  },
});
