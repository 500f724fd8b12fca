// Lay by hand: drag, push, turn, mirror, pin, undo. Used by lay/hand.html; the server snaps, judges and draws.
document.addEventListener("alpine:init", () => {
  Alpine.data("layByHand", () => ({
    held: "",
    drag: null,
    busy: false,
    lost: false,
    idle: false,
    init() {
      const board = this.$refs.board;
      board.addEventListener("pointerdown", (event) => this.take(event));
      board.addEventListener("pointermove", (event) => this.pull(event));
      board.addEventListener("pointerup", () => this.letGo());
      board.addEventListener("pointercancel", () => this.put());
      board.addEventListener("focusin", (event) => {
        const piece = event.target.closest("g.by-hand");
        if (piece) this.hold(piece.dataset.id);
      });
      board.addEventListener("click", (event) => {
        const button = event.target.closest("[data-act]");
        if (button) this.act(button.dataset.act);
      });
      this.$root.addEventListener("keydown", (event) => this.push(event));
      document.addEventListener("keydown", (event) => {
        if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
          event.preventDefault();
          this.act("undo");
        }
      });
    },
    piece(key) {
      return this.$refs.board.querySelector(`g[data-id="${CSS.escape(key)}"]`);
    },
    hold(key) {
      this.held = key;
      for (const each of this.$refs.board.querySelectorAll("g.by-hand")) {
        each.classList.toggle("is-held", each.dataset.id === key);
      }
    },
    spot(event) {
      return svgPoint(this.$refs.board.querySelector("svg"), event);
    },
    // --- by pointer and thumb
    take(event) {
      const piece = event.target.closest("g.by-hand");
      if (!piece || this.busy) return;
      event.preventDefault();
      piece.focus({ preventScroll: true });
      this.hold(piece.dataset.id);
      if (piece.classList.contains("is-pinned")) return;
      piece.parentNode.append(piece); // above the others while it moves
      this.drag = { piece, from: this.spot(event), by: [0, 0] };
      this.$refs.board.setPointerCapture(event.pointerId);
    },
    pull(event) {
      if (!this.drag) return;
      const [x, y] = this.spot(event);
      this.drag.by = [x - this.drag.from[0], y - this.drag.from[1]];
      this.drag.piece.setAttribute("transform", `translate(${this.drag.by[0]} ${this.drag.by[1]})`);
    },
    letGo() {
      const drag = this.drag;
      this.drag = null;
      if (drag && Math.hypot(...drag.by) > 1) this.act("move", drag.by[0], -drag.by[1]);
    },
    put() {
      this.drag?.piece.removeAttribute("transform");
      this.drag = null;
    },
    // --- by keys
    push(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
      if (!way || !this.held || !event.target.closest("g.by-hand")) return;
      event.preventDefault();
      const { pushFine, pushCoarse } = this.$root.dataset; // mm
      const step = Number(event.shiftKey ? pushCoarse : pushFine);
      this.act("nudge", way[0] * step, way[1] * step);
    },
    async act(act, along = 0, across = 0) {
      this.idle = act !== "undo" && !this.held;
      if (this.busy || this.idle) return;
      this.busy = true;
      const data = new FormData();
      for (const [name, value] of Object.entries({ act, along, across, key: this.held })) data.set(name, value);
      try {
        const answer = await post(this.$root.dataset.actUrl, data, { mark: "X-Hand" });
        if (!answer.ok && answer.status !== 422) throw new Error(answer.status);
        const left = this.$refs.board.querySelector(".roll").scrollLeft;
        this.$refs.board.innerHTML = await answer.text();
        this.$refs.board.querySelector(".roll").scrollLeft = left;
        this.lost = false;
        window.dispatchEvent(new CustomEvent("round-changed"));
        if (this.held) {
          this.hold(this.held);
          this.piece(this.held)?.focus({ preventScroll: true });
        }
      } catch {
        this.put();
        this.lost = true;
      }
      this.busy = false;
    },
  }));
});
