// Step through what is drawn in steps: a fold, the seams of a cover; each said aloud where that is wished.
// Used by fasten/panel.html; reads the steps by json_script.
document.addEventListener("alpine:init", () => {
  Alpine.data("shownSteps", () => ({
    steps: [],
    runs: [],
    at: 0,
    speaks: false,
    trouble: "",
    sent: 0,
    init() {
      tabInSight(document.querySelector(".pad-tabs"));
      const told = document.getElementById("shown-data");
      if (!told) return;
      const { steps = [], runs = [], sewn = 0 } = JSON.parse(told.textContent);
      Object.assign(this, { steps, runs, at: sewn, sent: sewn });
      this.draw();
    },
    get isSewing() { return this.runs.length > 0; },
    get isLast() { return this.isSewing ? this.at >= this.runs.length : this.at >= this.steps.length - 1; },
    get now() { return (this.isSewing ? this.runs : this.steps)[this.at]; },
    get title() { return this.now?.what ?? this.now?.title ?? "All sewn"; },
    get words() { return this.now?.words ?? "Turn it, look at every seam from the face, trim and snip the surplus."; },
    next() { if (!this.isLast) this.go(this.at + 1); },
    back() { if (this.at > 0) this.go(this.at - 1); },
    go(to) {
      this.at = to;
      this.draw();
      if (this.speaks) say(`${this.title}. ${this.words}`);
      if (this.isSewing) this.keep();
    },
    speak() {
      this.speaks = !this.speaks;
      if (this.speaks) say(`${this.title}. ${this.words}`);
      else hush();
    },
    draw() {
      for (const figure of this.$root.querySelectorAll("[data-step]")) {
        figure.classList.toggle("is-now", Number(figure.dataset.step) === this.at);
      }
      for (const nail of this.$root.querySelectorAll("[data-nail]")) {
        nail.classList.toggle("is-in", Number(nail.dataset.nail) <= this.at);
        nail.classList.toggle("is-now", Number(nail.dataset.nail) === this.at + 1);
      }
      for (const path of this.$root.querySelectorAll("[data-run^='run-']")) {
        const number = Number(path.dataset.run.slice(4));
        path.classList.toggle("is-in", number <= this.at);
        path.classList.toggle("is-now", number === this.at + 1);
      }
    },
    keep() {
      this.keeping ??= newestKept(async (sewn) => {
        const data = new FormData(this.$refs.keep);
        data.set("sewn", sewn);
        try {
          const answer = await post(this.$refs.keep.action, data, { mark: "X-Staple", keepalive: true });
          this.trouble = answer.ok ? "" : "Not kept: load the page again.";
        } catch {
          this.trouble = "Not kept: the application did not answer.";
        }
        this.sent = sewn;
      });
      this.sent = null;
      this.keeping(this.at);
    },
    destroy() { hush(); },
  }));
});
