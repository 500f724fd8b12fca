// Watch a lay become shorter. Used by lay/board.html; reads data-moving-url, and data-moving of the board that the
// server sends.
document.addEventListener("alpine:init", () => {
  Alpine.data("layWatch", () => ({
    large: false,
    init() {
      this.later();
    },
    later() {
      const board = this.$refs.board.querySelector("[data-moving]");
      if (board && board.dataset.moving === "yes") this.timer = setTimeout(() => this.look(), 700);
    },
    async look() {
      try {
        const answer = await fetch(this.$root.dataset.movingUrl, { headers: { "X-Moving": "1" } });
        if (answer.ok && !answer.redirected) {
          const before = this.$refs.board.querySelector(".roll");
          const left = before ? before.scrollLeft : 0;
          this.$refs.board.innerHTML = await answer.text();
          this.resize();
          const roll = this.$refs.board.querySelector(".roll");
          if (roll) roll.scrollLeft = left;
        }
      } catch {
        // the server is away for a moment: look again
      }
      this.later();
    },
    toggle() {
      this.large = !this.large;
      this.resize();
    },
    resize() {
      this.$refs.board.querySelector(".roll")?.classList.toggle("roll--large", this.large);
    },
    destroy() {
      clearTimeout(this.timer);
    },
  }));
});
