// A line drawn along what is seen on a photo: it goes with the form as parts of the photo's width and height.
// Used by fasten/_look_view.html.
document.addEventListener("alpine:init", () => {
  const STEP = 4; // pixels of the screen between two points
  Alpine.data("photoLine", () => ({
    trouble: "",
    points: [],
    last: null,
    init() {
      const photo = this.$refs.photo;
      photo.addEventListener("pointerdown", (event) => this.begin(event));
      photo.addEventListener("pointermove", (event) => this.draw(event));
      for (const over of ["pointerup", "pointercancel"]) photo.addEventListener(over, () => (this.last = null));
    },
    begin(event) {
      event.preventDefault();
      this.$refs.photo.setPointerCapture(event.pointerId);
      this.points = [];
      this.trouble = "";
      this.add(event);
    },
    draw(event) {
      if (!this.last) return;
      if (Math.hypot(event.clientX - this.last[0], event.clientY - this.last[1]) < STEP) return;
      this.add(event);
    },
    add(event) {
      const { width, height } = this.$refs.photo.viewBox.baseVal;
      const [x, y] = svgPoint(this.$refs.photo, event);
      this.last = [event.clientX, event.clientY];
      this.points.push([Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))]);
      const path = `M${this.points.map(([px, py]) => `${px.toFixed(1)} ${py.toFixed(1)}`).join("L")}`;
      for (const name of ["under", "drawn"]) this.$refs[name].setAttribute("d", path);
      this.$refs.points.value = this.points
        .map(([px, py]) => `${(px / width).toFixed(4)},${(py / height).toFixed(4)}`)
        .join(" ");
    },
    check(event) {
      if (this.points.length > 1) return;
      event.preventDefault();
      this.trouble = "Draw a line on the photo first, with a finger or the mouse.";
    },
  }));
});
