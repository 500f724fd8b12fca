// Mark a place on a piece of cloth: drag a box over the drawing, its figures go into the boxes beside it.
// Used by lay/set_up.html and lay/remnant.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("markCloth", () => ({
    from: null,
    init() {
      const cloth = this.$refs.cloth;
      cloth.addEventListener("pointerdown", (event) => this.begin(event));
      cloth.addEventListener("pointermove", (event) => this.draw(event));
      cloth.addEventListener("pointerup", () => this.end());
      cloth.addEventListener("pointercancel", () => this.end());
    },
    spot(event) {
      const [x, y] = svgPoint(this.$refs.cloth, event);
      return [Math.max(0, x), Math.max(0, y - Number(this.$refs.cloth.dataset.edge))];
    },
    begin(event) {
      event.preventDefault();
      this.$refs.cloth.setPointerCapture(event.pointerId);
      this.from = this.spot(event);
    },
    draw(event) {
      if (!this.from) return;
      const to = this.spot(event);
      const box = {
        from_end: Math.min(this.from[0], to[0]),
        from_left: Math.min(this.from[1], to[1]),
        along: Math.abs(to[0] - this.from[0]),
        across: Math.abs(to[1] - this.from[1]),
      };
      for (const [name, value] of Object.entries(box)) {
        const least = name.startsWith("from") ? 0 : 2;
        this.$root.querySelector(`[name=${name}]`).value = `${Math.round(Math.max(value, least))} mm`;
      }
      const y = box.from_left + Number(this.$refs.cloth.dataset.edge);
      const shown = { x: box.from_end, y, width: box.along, height: box.across };
      for (const [name, value] of Object.entries(shown)) this.$refs.box.setAttribute(name, value);
    },
    end() {
      this.from = null;
    },
  }));
});
