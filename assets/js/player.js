// Plays the frames of a step as the server sends them, and lets the film be put in another order.
const NS = "http://www.w3.org/2000/svg";
const WORDS = { before: "Before: ram coming down", during: "Bending", after: "After: ram going up" };
const WAYS = { before: "Before: clamp coming down", during: "Bending", after: "After: clamp going up" };
const outline = (points) => `M${points.map(([y, z]) => `${y},${-z}`).join("L")}Z`;

export const player = () => ({
  step: 1, frame: 0, data: null, timer: null, space: false,
  async init() {
    this.total = Number(this.$root.dataset.steps);
    this.onStep = (event) => this.show(this.step + event.detail);
    document.addEventListener("step", this.onStep);
    this.watchFilm();
    if (this.total) await this.show(Number(this.$root.dataset.blocked) || 1);
  },
  destroy() { document.removeEventListener("step", this.onStep); this.stop(); },
  get viewLabel() { return this.space ? "Section" : "In space"; },
  turnView() {
    this.stop();
    this.space = !this.space;
    this.$refs.space.hidden = !this.space;
    this.$refs.view.classList.toggle("gone", this.space);
    if (this.data) this.draw();
  },
  scene(frame) { return this.$root.dataset.space.replace("/0/0/", `/${this.step}/${frame}/`); },
  get playLabel() { return this.timer ? "Stop" : "Play"; },
  get stepWords() { if (Number(this.$root.dataset.blocked) === this.step) return "that cannot be made"; return `${this.step} of ${this.total}`; },
  get words() {
    if (!this.data) return "";
    const now = this.data.frames[this.frame];
    const said = this.data.kind === "press" ? WORDS : WAYS;
    return now.phase === "during" ? `${said.during}, ${this.angle(now.angle)}` : said[now.phase];
  },
  angle(bent) { return this.$root.dataset.included ? `${+(180 - bent).toFixed(1)}° incl.` : `${bent}°`; },
  async show(step) {
    if (step < 1 || step > this.total) return;
    this.stop();
    this.step = step;
    const answer = await fetch(this.$root.dataset.frames.replace("/0/", `/${step}/`));
    if (!answer.ok) return;
    this.data = await answer.json();
    this.frame = this.data.frames.findLastIndex((f) => f.phase === "during");
    if (this.frame < 0) this.frame = 0;
    this.$refs.scrub.max = this.data.frames.length - 1;
    this.build();
    for (const sheet of this.$root.querySelectorAll(".step-sheet")) sheet.hidden = Number(sheet.dataset.step) !== step;
    for (const card of this.$root.querySelectorAll("[data-card]")) card.classList.toggle("on", Number(card.dataset.card) === step);
  },
  build() {
    const group = this.$refs.tools;
    group.replaceChildren();
    this.moving = [];
    for (const [kind, set] of [["still", this.data.still], ["moving", this.data.moving]]) {
      for (const [name, points] of Object.entries(set)) {
        const path = document.createElementNS(NS, "path");
        path.setAttribute("class", `tool ${name}`);
        path.setAttribute("d", outline(points));
        group.append(path);
        if (kind === "moving") this.moving.push([name, path]);
      }
    }
    this.draw();
  },
  meets(id) {
    const { blocked, hits } = this.$root.dataset;
    return Number(blocked) === this.step && hits.split(" ").includes(id);
  },
  draw() {
    const now = this.data.frames[this.frame];
    for (const [name, path] of this.moving) {
      const [right, up, turned] = now.shifts[name] || [0, 0, 0];
      path.setAttribute("transform", `translate(${right} ${-up}) rotate(${-turned})`);
    }
    this.$refs.part.replaceChildren(...now.part.map((piece) => {
      const path = document.createElementNS(NS, "path");
      path.setAttribute("class", `metal${this.meets(piece.id) ? " hit" : ""}${piece.cut ? "" : " behind"}`);
      path.setAttribute("d", outline(piece.points));
      return path;
    }));
    this.$refs.scrub.value = this.frame;
    if (this.space) this.$refs.space.src = this.scene(this.frame);
  },
  seek() { this.stop(); this.frame = Number(this.$refs.scrub.value); this.draw(); },
  toggle() { if (this.timer) this.stop(); else this.play(); },
  stop() { clearInterval(this.timer); this.timer = null; },
  play() {
    if (!this.data) return;
    this.frame = 0;
    this.timer = setInterval(() => {
      if (this.space && !this.$refs.space.complete) return; // a picture takes longer than a frame of the section
      if (this.frame >= this.data.frames.length - 1) { this.stop(); return; }
      this.frame += 1;
      this.draw();
    }, 110);
  },
  back() { this.show(this.step - 1); },
  on() { this.show(this.step + 1); },

  watchFilm() {
    const film = this.$root.querySelector(".film");
    if (!film) return;
    const cards = () => [...film.querySelectorAll("[data-bend]")];
    const submit = (order) => { this.$refs.names.value = order.join(","); this.$refs.tryForm.dispatchEvent(new Event("tried")); };
    const moveTo = (from, to) => {
      const order = cards().map((card) => card.dataset.bend);
      if (to < 0 || to >= order.length || from === to) return;
      order.splice(to, 0, ...order.splice(from, 1));
      submit(order);
    };
    let dragged = null;
    film.addEventListener("click", (event) => {
      const face = event.target.closest("[data-show]");
      if (face && face.dataset.show !== "0") this.show(Number(face.dataset.show));
      const keep = event.target.closest("[data-keep]");
      if (keep) {
        const kept = keep.getAttribute("aria-pressed") === "true", at = cards().indexOf(keep.closest("[data-bend]"));
        submit(cards().map((card) => card.dataset.bend).slice(0, kept ? at : at + 1));
      }
      const nudge = event.target.closest("[data-nudge]");
      if (nudge) { const from = cards().indexOf(nudge.closest("[data-bend]")); moveTo(from, from + Number(nudge.dataset.nudge)); }
    });
    film.addEventListener("dragstart", (event) => { dragged = event.target.closest("[data-bend]"); event.dataTransfer.setData("text/plain", dragged?.dataset.bend || ""); });
    film.addEventListener("dragover", (event) => {
      const over = event.target.closest("[data-bend]");
      if (!dragged || !over) return;
      event.preventDefault();
      for (const card of cards()) card.classList.toggle("over", card === over);
    });
    film.addEventListener("drop", (event) => {
      const over = event.target.closest("[data-bend]");
      if (!dragged || !over) return;
      event.preventDefault();
      moveTo(cards().indexOf(dragged), cards().indexOf(over));
      dragged = null;
    });
  },
});
