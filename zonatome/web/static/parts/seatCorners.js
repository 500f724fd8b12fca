// Four marks that are moved onto the corners of a seat on its photo: their places go with the form, in shares of the
// photo's width and height. Used by rehearse/corners.html.
document.addEventListener("alpine:init", () => {
  const STEP = 1 / 400; // of the photo's longer side, for one press of an arrow
  const FARTHER = 8;
  const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  Alpine.data("seatCorners", () => ({
    held: null,
    photo: null,
    init() {
      this.photo = this.$root;
      this.tell();
    },
    marks() {
      return [...this.photo.querySelectorAll("[data-mark]")];
    },
    sizes() {
      return [Number(this.photo.dataset.wide), Number(this.photo.dataset.high)];
    },
    take(event) {
      const [x, y] = svgPoint(this.photo, event);
      const near = (mark) => Math.hypot(mark.dataset.x - x, mark.dataset.y - y);
      this.held = event.target.closest("[data-mark]") ?? this.marks().sort((a, b) => near(a) - near(b))[0];
      event.preventDefault();
      this.held.focus({ preventScroll: true });
      this.photo.setPointerCapture(event.pointerId);
      this.put(this.held, x, y);
    },
    move(event) {
      if (this.held) this.put(this.held, ...svgPoint(this.photo, event));
    },
    leave() {
      this.held = null;
    },
    key(event) {
      const mark = event.target.closest("[data-mark]");
      const way = WAYS[event.key];
      if (!mark || !way || event.altKey || event.ctrlKey) return;
      event.preventDefault();
      event.stopPropagation();
      const step = Math.max(...this.sizes()) * STEP * (event.shiftKey ? FARTHER : 1);
      this.put(mark, Number(mark.dataset.x) + way[0] * step, Number(mark.dataset.y) + way[1] * step);
    },
    put(mark, x, y) {
      const [wide, high] = this.sizes();
      mark.dataset.x = Math.min(wide, Math.max(0, x)).toFixed(1);
      mark.dataset.y = Math.min(high, Math.max(0, y)).toFixed(1);
      mark.setAttribute("transform", `translate(${mark.dataset.x} ${mark.dataset.y})`);
      this.tell();
    },
    tell() {
      const [wide, high] = this.sizes();
      const at = this.marks().map((mark) => [Number(mark.dataset.x), Number(mark.dataset.y)]);
      this.photo.querySelector("polygon").setAttribute("points", at.map((each) => each.join(",")).join(" "));
      const shares = at.map(([x, y]) => [Number((x / wide).toFixed(5)), Number((y / high).toFixed(5))]);
      document.getElementById(this.photo.dataset.box).value = JSON.stringify(shares);
    },
  }));
});
