// The outline follows while one types: in the form, or in the boxes on the drawing, which are the same boxes.
// Used by trace/panel.html.
document.addEventListener("alpine:init", () => {
  const PAUSE = 180; // ms without a letter before the outline is asked for
  Alpine.data("tapeBoxes", () => ({
    waiting: null,
    asking: null,
    init() {
      this.form = document.getElementById("by-tape");
      this.form.addEventListener("input", () => this.soon());
      this.form.addEventListener("change", () => this.soon()); // what was kept from before is put back so
    },
    typed(event) {
      this.form.elements[event.target.dataset.tape].value = event.target.value;
      this.soon();
    },
    keep() {
      this.form.requestSubmit();
    },
    soon() {
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.draw(), PAUSE);
    },
    async draw() {
      this.asking?.abort();
      this.asking = new AbortController();
      const told = new URLSearchParams();
      for (const box of this.form.elements) {
        if (box.name && ["text", "textarea"].includes(box.type)) told.set(box.name, box.value);
      }
      try {
        const answer = await fetch(`${this.$root.dataset.triedUrl}?${told}`, { signal: this.asking.signal });
        if (answer.ok) this.show(await answer.text());
      } catch (away) {
        if (away.name !== "AbortError") this.soon(); // the application is away for a moment
      }
    },
    show(drawn) {
      const on = document.activeElement;
      const key = this.$refs.drawn.contains(on) ? on.dataset.tape : null;
      const at = key ? on.selectionStart : 0;
      this.$refs.drawn.innerHTML = drawn;
      for (const box of this.$refs.drawn.querySelectorAll("[data-tape]")) {
        box.value = this.form.elements[box.dataset.tape].value;
      }
      const again = key && this.$refs.drawn.querySelector(`[data-tape="${key}"]`);
      if (again) {
        again.focus({ preventScroll: true });
        again.setSelectionRange(at, at);
      }
    },
  }));
});
