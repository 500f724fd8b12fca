// A piece pressed on the roll lights up on the furniture, and the other way round.
// Used by lay/seen.html; reads data-id of the roll's pieces; speaks with inTheRound by the event round-lit.
document.addEventListener("alpine:init", () => {
  Alpine.data("rollAndRound", () => ({
    inHand: "",
    init() {
      window.addEventListener("round-lit", (event) => this.light(event.detail));
    },
    press(event) {
      const met = event.target.closest(".seen-roll [data-id]");
      if (met) window.dispatchEvent(new CustomEvent("round-lit", { detail: this.panelOf(met) }));
    },
    // with the keys: left and right walk the pieces of the roll
    key(event) {
      const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!way || !event.target.closest(".seen-roll")) return;
      event.preventDefault();
      const keys = [...new Set([...this.$root.querySelectorAll(".seen-roll [data-id]")].map((each) => this.panelOf(each)))];
      const next = keys[(keys.indexOf(this.inHand) + way + keys.length) % keys.length];
      window.dispatchEvent(new CustomEvent("round-lit", { detail: next }));
    },
    panelOf(piece) {
      return piece.dataset.id.replace(/^t\d+-/, "").replace(/\.\d+$/, "");
    },
    light(key) {
      this.inHand = this.inHand === key ? "" : key;
      for (const each of this.$root.querySelectorAll(".seen-roll [data-id]")) {
        each.classList.toggle("is-lit", this.panelOf(each) === this.inHand);
      }
    },
  }));
});
