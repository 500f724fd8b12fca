// Walk the panels of the opened-out drawing with the arrow keys. Used by _opened_out.html; reads data-x and data-y of its links.
document.addEventListener("alpine:init", () => {
  Alpine.data("openedOut", () => ({
    walk(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      const here = event.target.closest("[data-x]");
      if (!way || !here) return;
      event.preventDefault();
      let best = null;
      let least = Infinity;
      for (const other of this.$el.querySelectorAll("[data-x]")) {
        const dx = other.dataset.x - here.dataset.x;
        const dy = other.dataset.y - here.dataset.y;
        const ahead = dx * way[0] + dy * way[1];
        const aside = Math.abs(dx * way[1]) + Math.abs(dy * way[0]);
        if (ahead > 1 && ahead + 2 * aside < least) {
          least = ahead + 2 * aside;
          best = other;
        }
      }
      if (best) best.focus();
    },
  }));
});
