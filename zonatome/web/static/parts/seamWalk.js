// Walk one shape along the seam of another, so that one sees where they part.
// Used by trace/_walk.html; the server worked the places out.
document.addEventListener("alpine:init", () => {
  Alpine.data("seamWalk", () => ({
    steps: [],
    at: 0,
    playing: false,
    words: "",
    init() {
      this.steps = JSON.parse(document.getElementById("walk-steps").textContent);
      this.show();
      if (!matchMedia("(prefers-reduced-motion: reduce)").matches) this.play();
    },
    show() {
      const [along, x, y, degrees, touchX, touchY] = this.steps[Number(this.at)];
      this.$refs.other.setAttribute("transform", `translate(${x} ${y}) rotate(${degrees})`);
      this.$refs.foot.setAttribute("cx", touchX);
      this.$refs.foot.setAttribute("cy", touchY);
      this.words = `${Math.round(along)} mm along`;
    },
    play() {
      this.playing = !this.playing;
      if (!this.playing) return clearInterval(this.timer);
      if (Number(this.at) >= this.steps.length - 1) this.at = 0;
      this.timer = setInterval(() => {
        this.at = Number(this.at) + 1;
        this.show();
        if (this.at >= this.steps.length - 1) this.play();
      }, 90);
    },
    press(event) {
      const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!way || event.target.closest("input, select, textarea, dialog")) return;
      event.preventDefault();
      this.at = Math.max(0, Math.min(this.steps.length - 1, Number(this.at) + way));
      this.show();
    },
    destroy() { clearInterval(this.timer); },
  }));
});
