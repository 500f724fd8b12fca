// Walk the panels of the opened-out drawing with the arrow keys; a thumb finds the narrow ones.
// Used by _opened_out.html; reads data-x and data-y.
document.addEventListener("alpine:init", () => {
  const THUMB = 44; // px: what is drawn narrower is meant by a thumb that comes down so near to its middle
  Alpine.data("openedOut", () => ({
    thumb(event) {
      if (event.pointerType !== "touch") return;
      let meant = null;
      let least = THUMB / 2;
      for (const each of this.$el.querySelectorAll("a[data-x]")) {
        const { left, top, width, height } = each.querySelector(".part").getBoundingClientRect();
        if (Math.min(width, height) >= THUMB) continue;
        const aside = Math.max(0, Math.abs(event.clientX - left - width / 2) - Math.max(0, width - THUMB) / 2);
        const above = Math.max(0, Math.abs(event.clientY - top - height / 2) - Math.max(0, height - THUMB) / 2);
        if (Math.max(aside, above) <= least) {
          least = Math.max(aside, above);
          meant = each;
        }
      }
      if (!meant || meant.contains(event.target)) return;
      event.preventDefault();
      event.stopPropagation();
      location.assign(meant.href.baseVal ?? meant.href);
    },
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
