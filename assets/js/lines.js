// Which kind of bend line the flat shows.
export const lines = () => ({
  kind: "centre",
  centre() { this.kind = "centre"; },
  tangents() { this.kind = "tangents"; },
  sight() { this.kind = "sight"; },
  get isCentre() { return String(this.kind === "centre"); },
  get isTangents() { return String(this.kind === "tangents"); },
  get isSight() { return String(this.kind === "sight"); },
  get shown() { return `show-${this.kind}`; },
});
