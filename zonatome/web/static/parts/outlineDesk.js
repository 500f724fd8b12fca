// Mend an outline over its photo: drag, add, take out, nudge, undo.
// Used by trace/photo.html; the server rounds, cuts, pulls, tidies and judges.
document.addEventListener("alpine:init", () => {
  Alpine.data("outlineDesk", () => ({
    points: [],
    past: [],
    ahead: [],
    inHand: 0,
    cutFrom: null, // the point at which a cut begins, until the other one is chosen
    dragged: null,
    trouble: "",
    near: false,
    unsaved: false,
    change: 0,
    figures: "",
    init() {
      // where the line turns more than this it is shown, and walked to, as a corner
      this.turned = (Number(this.$refs.keep.dataset.corner) * Math.PI) / 180;
      this.points = JSON.parse(document.getElementById("traced-points").textContent);
      this.$refs.board.addEventListener("pointerdown", (event) => {
        // a thumb is wider than a pointer
        const reach = (event.pointerType === "touch" ? 24 : 11) / this.$refs.board.getScreenCTM().a;
        const [x, y] = this.place(event);
        const apart = this.points.map(([px, py]) => Math.hypot(px - x, py - y));
        const at = apart.indexOf(Math.min(...apart));
        if (apart[at] <= reach) this.take(at, event);
        else this.add(event, reach);
      });
      this.draw();
    },
    // --- drawing
    draw() {
      const path = this.points.map(([x, y], n) => `${n ? "L" : "M"}${x.toFixed(2)} ${y.toFixed(2)}`).join("") + "Z";
      this.$refs.line.setAttribute("d", path);
      const dots = this.$refs.dots;
      while (dots.childElementCount > this.points.length) dots.lastChild.remove();
      while (dots.childElementCount < this.points.length) {
        dots.append(document.createElementNS(dots.namespaceURI, "circle"));
      }
      this.points.forEach(([x, y], n) => {
        const dot = dots.children[n];
        dot.setAttribute("cx", x);
        dot.setAttribute("cy", y);
        dot.setAttribute("r", n === this.inHand ? 11 : this.turns(n) ? 8 : 5);
        const marks = `${n === this.inHand ? " is-in-hand" : ""}${n === this.cutFrom ? " is-cut-from" : ""}`;
        dot.setAttribute("class", `mending__dot${marks}`);
        dot.dataset.at = n;
      });
      const xs = this.points.map((p) => p[0]);
      const ys = this.points.map((p) => p[1]);
      const [wide, high] = [xs, ys].map((all) => Math.round(Math.max(...all) - Math.min(...all)));
      this.figures = `${wide} × ${high} mm, ${this.points.length} points`;
    },
    turns(n) {
      const [a, b, c] = [this.points.at(n - 1), this.points[n], this.points[(n + 1) % this.points.length]];
      const turn = Math.atan2(c[1] - b[1], c[0] - b[0]) - Math.atan2(b[1] - a[1], b[0] - a[0]);
      return Math.abs(Math.atan2(Math.sin(turn), Math.cos(turn))) > this.turned;
    },
    place(event) {
      return svgPoint(this.$refs.board, event);
    },
    // --- changes: each is remembered whole
    remember() {
      this.past.push(this.points.map((p) => [...p]));
      if (this.past.length > 200) this.past.shift();
      this.ahead = [];
    },
    changed() {
      this.draw();
      clearTimeout(this.timer);
      this.unsaved = true;
      this.change += 1;
      this.timer = setTimeout(() => this.mend(), 600);
    },
    take(at, event) {
      event.preventDefault();
      this.remember();
      this.inHand = at;
      this.dragged = { at, moved: false };
      this.$refs.board.setPointerCapture(event.pointerId);
      this.draw();
    },
    drag(event) {
      if (!this.dragged) return;
      this.dragged.moved = true;
      this.points[this.dragged.at] = this.place(event);
      this.draw();
    },
    drop() {
      if (!this.dragged) return;
      if (this.dragged.moved) this.changed();
      else this.past.pop();
      this.dragged = null;
    },
    add(event, reach) {
      const [x, y] = this.place(event);
      let best = 0;
      let least = Infinity;
      this.points.forEach(([ax, ay], n) => {
        const [bx, by] = this.points[(n + 1) % this.points.length];
        const length = (bx - ax) ** 2 + (by - ay) ** 2 || 1;
        const along = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length));
        const apart = Math.hypot(x - ax - along * (bx - ax), y - ay - along * (by - ay));
        if (apart < least) [least, best] = [apart, n];
      });
      if (least > reach) return;
      this.remember();
      this.points.splice(best + 1, 0, [x, y]);
      this.inHand = best + 1;
      this.dragged = { at: best + 1, moved: true };
      this.$refs.board.setPointerCapture(event.pointerId);
      event.preventDefault();
      this.draw();
    },
    remove() {
      if (this.points.length <= 3) return;
      this.remember();
      this.points.splice(this.inHand, 1);
      this.cutFrom = null;
      this.inHand %= this.points.length;
      this.changed();
    },
    straight() {
      let end = this.inHand + 1;
      const count = this.points.length;
      while (end < this.inHand + count - 2 && !this.turns(end % count)) end += 1;
      if (end - this.inHand < 2) return;
      this.remember();
      this.cutFrom = null;
      const gone = new Set(Array.from({ length: end - this.inHand - 1 }, (_, k) => (this.inHand + 1 + k) % count));
      const kept = this.points[this.inHand];
      this.points = this.points.filter((_, n) => !gone.has(n));
      this.inHand = this.points.indexOf(kept);
      this.changed();
    },
    next() { this.walk(1); },
    before() { this.walk(-1); },
    walk(way) {
      this.inHand = (this.inHand + way + this.points.length) % this.points.length;
      this.draw();
    },
    press(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      if (!way || event.target.closest("input, select, textarea, dialog")) return;
      event.preventDefault();
      this.remember();
      const { pushFine, pushCoarse } = this.$root.dataset; // mm
      const far = Number(event.shiftKey ? pushCoarse : pushFine);
      const [x, y] = this.points[this.inHand];
      this.points[this.inHand] = [x + way[0] * far, y + way[1] * far];
      this.changed();
    },
    undo() { this.swap(this.past, this.ahead); },
    redo() { this.swap(this.ahead, this.past); },
    swap(from, to) {
      if (!from.length) return;
      to.push(this.points);
      this.cutFrom = null;
      this.points = from.pop();
      this.inHand %= this.points.length;
      this.changed();
    },
    zoom() {
      this.near = !this.near;
      const { width, height } = this.$refs.board.querySelector("image").getBBox();
      const [x, y] = this.points[this.inHand];
      const w = width / 4;
      const h = height / 4;
      const near = `${x - w / 2} ${y - h / 2} ${w} ${h}`;
      this.$refs.board.setAttribute("viewBox", this.near ? near : `0 0 ${width} ${height}`);
      this.$refs.board.classList.toggle("is-near", this.near);
    },
    // --- the server
    sent() {
      return JSON.stringify(this.points.map(([x, y]) => [Number(x.toFixed(3)), Number((-y).toFixed(3))]));
    },
    fill() {
      clearTimeout(this.timer);
      this.unsaved = false;
      this.$refs.points.value = this.sent();
    },
    form() {
      const data = new FormData(this.$refs.keep);
      data.set("points", this.sent());
      data.set("only_mend", "1");
      return data;
    },
    async mend() {
      const change = this.change; // what is changed while this is on its way is not kept by it
      try {
        const answer = await post(this.$refs.keep.action, this.form());
        this.trouble = answer.ok ? "" : "Not kept: the line crosses itself. Move the point back, or undo.";
        this.unsaved = !answer.ok || change !== this.change;
      } catch {
        this.trouble = "Not kept: the application did not answer.";
      }
    },
    leave() {
      if (this.unsaved) navigator.sendBeacon(this.$refs.keep.action, this.form());
    },
    tidy() { return this.use("tidy"); },
    round() { return this.use("round", { radius: this.$refs.radius.value }); },
    pull() { return this.use("pull"); },
    async cut() {
      if (this.cutFrom === null || this.cutFrom === this.inHand) {
        this.cutFrom = this.cutFrom === null ? this.inHand : null;
        this.trouble = "";
        return this.draw();
      }
      const to = this.cutFrom;
      this.cutFrom = null;
      await this.use("cut", { to });
      return this.draw();
    },
    async use(tool, more = {}) {
      const data = this.form();
      data.set("at", this.inHand);
      for (const [key, value] of Object.entries(more)) data.set(key, value);
      try {
        const answer = await post(this.$refs.keep.dataset.tool.replace("/tidy/", `/${tool}/`), data);
        const told = await answer.json();
        if (!answer.ok) {
          this.trouble = told.words;
          return;
        }
        const [x, y] = this.points[this.inHand];
        this.remember();
        this.points = told.points;
        const apart = this.points.map(([px, py]) => Math.hypot(px - x, py - y));
        this.inHand = apart.indexOf(Math.min(...apart));
        this.trouble = "";
        this.changed();
      } catch {
        this.trouble = "Nothing changed: the application did not answer.";
      }
    },
    destroy() { clearTimeout(this.timer); },
  }));
});
