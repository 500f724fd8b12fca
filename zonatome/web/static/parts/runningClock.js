// Show how long the clock has run; it runs on the server. Used by strip/home.html; reads data-began.
document.addEventListener("alpine:init", () => {
  Alpine.data("runningClock", () => ({
    words: "",
    init() {
      this.tick();
      this.timer = setInterval(() => this.tick(), 1000);
    },
    tick() {
      const seconds = Math.max(0, Math.round((Date.now() - Date.parse(this.$root.dataset.began)) / 1000));
      const two = (value) => String(value).padStart(2, "0");
      const hours = Math.floor(seconds / 3600);
      this.words = `${hours ? `${hours}:` : ""}${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
    },
    destroy() {
      clearInterval(this.timer);
    },
  }));
});
