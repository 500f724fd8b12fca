// The fortnight: looked at again while a better plan is sought; a spell is dragged to another time or person.
// Used by fortnight/home.html; reads data-moving-url, data-moving of the board that the server sends, data-spell of
// spells, data-day and data-worker of what they are dropped on. Where that is in time, the server works out.
const NEAR = 6; // pixels: less is a press

document.addEventListener("alpine:init", () => {
  Alpine.data("fortnightBoard", () => ({
    words: "",
    spell: null,
    wasDragged: false,
    init() {
      this.unfold();
      this.later();
    },
    // where the drawing has no room its words stand open
    unfold() {
      const fold = this.$refs.board.querySelector("details.agenda-fold");
      if (fold && matchMedia("(max-width: 700px)").matches) fold.open = true;
    },
    later() {
      const board = this.$refs.board.querySelector("[data-moving]");
      if (board?.dataset.moving === "yes") this.timer = setTimeout(() => this.look(), 900);
    },
    async look() {
      if (this.spell) return this.later();
      try {
        const answer = await fetch(this.$root.dataset.movingUrl);
        if (answer.ok && !answer.redirected) {
          const wasOpen = this.$refs.board.querySelector("details.agenda-fold")?.open;
          this.$refs.board.innerHTML = await answer.text();
          const fold = this.$refs.board.querySelector("details.agenda-fold");
          if (fold && wasOpen) fold.open = true;
        }
      } catch {
        // the server is away for a moment: look again
      }
      this.later();
    },
    take(event) {
      const spell = event.target.closest("[data-spell]");
      this.wasDragged = false;
      if (!spell || event.button !== 0 || event.pointerType === "touch") return;
      this.spell = spell;
      this.from = [event.clientX, event.clientY];
      this.offset = event.clientX - spell.getBoundingClientRect().left;
    },
    drag(event) {
      if (!this.spell) return;
      const [dx, dy] = [event.clientX - this.from[0], event.clientY - this.from[1]];
      if (!this.wasDragged && Math.hypot(dx, dy) < NEAR) return;
      if (!this.wasDragged) this.$root.setPointerCapture(event.pointerId);
      this.wasDragged = true;
      const scale = this.spell.ownerSVGElement.getScreenCTM().a;
      this.spell.classList.add("is-dragged");
      this.spell.setAttribute("transform", `translate(${dx / scale} ${dy / scale})`);
    },
    async drop(event) {
      const spell = this.spell;
      if (!spell || !this.wasDragged) return this.leave();
      const under = document.elementsFromPoint(event.clientX, event.clientY);
      const lane = under.find((each) => each.dataset.worker);
      const left = event.clientX - this.offset + 1;
      const day = [...this.$refs.board.querySelectorAll("[data-day]")].find((each) => {
        const at = each.getBoundingClientRect();
        return left < at.right && event.clientY > at.top && event.clientY < at.bottom;
      });
      const box = day?.getBoundingClientRect();
      this.leave();
      if (!lane || !day) return;
      const data = new FormData();
      data.set("worker", lane.dataset.worker);
      data.set("day", day.dataset.day);
      data.set("share", String(Math.max(0, (left - box.left) / box.width)));
      try {
        const answer = await window.post(spell.getAttribute("href"), data, { mark: "X-Drag" });
        this.words = (await answer.json()).words;
        await this.look();
      } catch {
        this.words = "Not sent: the server does not answer.";
      }
    },
    leave() {
      this.spell?.removeAttribute("transform");
      this.spell?.classList.remove("is-dragged");
      this.spell = null;
    },
    // the press that ends a drag opens nothing
    held(event) {
      if (!this.wasDragged) return;
      event.preventDefault();
      event.stopPropagation();
      this.wasDragged = false;
    },
    destroy() {
      clearTimeout(this.timer);
    },
  }));
});
