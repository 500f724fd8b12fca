// A photo that another device has taken of the part in hand stands beside it at once.
// Used by strip/_hand.html; reads data-photos-url.
document.addEventListener("alpine:init", () => {
  const EVERY = 1500; // ms
  Alpine.data("photosArrive", () => ({
    init() {
      this.there = this.$root.dataset.there;
      this.timer = setInterval(() => this.look(), EVERY);
    },
    async look() {
      if (document.hidden || this.busy) return;
      this.busy = true;
      try {
        const answer = await fetch(`${this.$root.dataset.photosUrl}?there=${this.there}`);
        if (answer.status === 200 && !answer.redirected) {
          this.there = answer.headers.get("X-There");
          this.$root.innerHTML = await answer.text();
        }
      } catch {
        // the server is away for a moment: look again
      }
      this.busy = false;
    },
    destroy() {
      clearInterval(this.timer);
    },
  }));
});
