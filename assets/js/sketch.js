// Drawing a strip point to point. Only the pointer is snapped here; legs and bends are made of the points by the server.
const ANGLE = 15;
const GRID = 1;

export const sketch = () => ({
  drawing: false, points: [], tip: null,
  begin() { this.drawing = !this.drawing; this.points = []; this.tip = null; },
  cancel() { this.drawing = false; this.points = []; },
  get scale() { return Number(this.$refs.board.dataset.scale) / Number(this.$refs.board.dataset.mm); },
  at(event) {
    const board = this.$refs.board;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(board.getScreenCTM().inverse());
    const raw = { x: point.x, y: point.y };
    const last = this.points.at(-1);
    if (!last) return raw;
    const before = this.points.at(-2);
    const base = before ? Math.atan2(last.y - before.y, last.x - before.x) : 0;
    const step = (ANGLE * Math.PI) / 180;
    const turn = Math.round((Math.atan2(raw.y - last.y, raw.x - last.x) - base) / step) * step;
    const mm = Math.max(GRID, Math.round(Math.hypot(raw.x - last.x, raw.y - last.y) / this.scale / GRID) * GRID);
    return { x: last.x + mm * this.scale * Math.cos(base + turn), y: last.y + mm * this.scale * Math.sin(base + turn) };
  },
  press(event) { if (this.drawing) { event.preventDefault(); this.points = [...this.points, this.at(event)]; this.tip = null; } },
  move(event) { if (this.drawing) this.tip = this.at(event); },
  get path() { return this.points.length ? `M${this.points.map((p) => `${p.x},${p.y}`).join("L")}` : ""; },
  get rubber() { const last = this.points.at(-1); return last && this.tip ? `M${last.x},${last.y}L${this.tip.x},${this.tip.y}` : ""; },
  get tipX() { return this.tip ? this.tip.x + 12 : 0; },
  get tipY() { return this.tip ? this.tip.y - 12 : 0; },
  get size() {
    const last = this.points.at(-1);
    return last && this.tip ? `${(Math.hypot(this.tip.x - last.x, this.tip.y - last.y) / this.scale).toFixed(0)} mm` : "";
  },
  get hint() { return this.points.length ? "Tap the next corner; angles snap to 15°. Then press Use this line." : "Tap where the outside of the strip begins."; },
  finish() {
    this.$refs.points.value = JSON.stringify(this.points.map((p) => [p.x / this.scale, -p.y / this.scale]));
    this.$refs.form.dispatchEvent(new Event("drawn"));
    this.cancel();
  },
});
