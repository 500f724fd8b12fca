// Step through the staples of a board.
// Used by fasten/panel.html; reads the plan by json_script, keeps the count on the server.
document.addEventListener("alpine:init", () => {
  Alpine.data("stapleSteps", () => ({
    done: 0,
    each: 1,
    count: 1,
    words: [],
    trouble: "",
    playing: null,
    sent: 0,
    speaks: false,
    beats: false,
    every: 5,
    init() {
      tabInSight(document.querySelector(".pad-tabs"));
      Object.assign(this, JSON.parse(document.getElementById("staple-data").textContent));
      this.sent = this.done;
      this.draw();
    },
    get whole() { return this.each * this.count; },
    get isWhole() { return this.done >= this.whole; },
    get piece() { return Math.min(this.count, Math.floor(this.done / this.each) + 1); },
    get at() { return this.isWhole ? this.each : this.done % this.each; },
    get number() { return this.isWhole ? this.each : this.at + 1; },
    get sentence() { return this.isWhole ? "All staples of this panel are in." : this.words[this.at]; },
    get heading() { return this.isWhole ? "All in" : `Staple ${this.number}`; },
    next() { this.go(this.done + 1); },
    back() {
      this.stop();
      this.go(this.done - 1);
    },
    go(to) {
      this.done = Math.max(0, Math.min(this.whole, to));
      this.draw();
      this.keep();
      if (this.speaks) say(`${this.heading}. ${this.sentence}`);
      if (this.isWhole) this.stop();
    },
    speak() {
      this.speaks = !this.speaks;
      if (this.speaks) say(`${this.heading}. ${this.sentence}`);
      else hush();
    },
    // one staple every so many seconds, each kept; a hand on Back or Beat stops it
    beat() {
      if (this.beats) return this.stop();
      this.beats = true;
      this.beating = setInterval(() => this.next(), this.every * 1000);
    },
    stop() {
      clearInterval(this.beating);
      this.beats = false;
    },
    wholePiece() { this.go(Math.min(this.whole, (Math.floor(this.done / this.each) + 1) * this.each)); },
    play() {
      if (this.playing) return this.pause();
      this.playing = setInterval(() => {
        this.shown = (this.shown ?? this.at) + 1;
        if (this.shown > this.each) return this.pause();
        this.draw(this.shown);
      }, 180);
    },
    pause() {
      clearInterval(this.playing);
      this.playing = null;
      this.shown = undefined;
      this.draw();
    },
    draw(at = this.at) {
      for (const group of this.$root.querySelectorAll(".staple-group")) {
        const number = Number(group.dataset.number);
        group.classList.toggle("is-in", number <= at);
        group.classList.toggle("is-now", number === at + 1 && !this.isWhole);
        group.querySelector(".staple-number").classList.toggle("is-shown", number > at - 3 || number <= 8);
      }
    },
    form() {
      const data = new FormData(this.$refs.keep);
      data.set("done", this.done);
      return data;
    },
    // only the newest count is sent, and it is sent even while the page closes
    keep() {
      this.keeping ??= newestKept(async (count) => {
        this.sent = null; // until there is an answer nobody knows which count stands
        const data = this.form();
        data.set("done", count);
        try {
          const answer = await post(this.$refs.keep.action, data, { mark: "X-Staple", keepalive: true });
          this.trouble = answer.ok ? "" : "Not kept: load the page again.";
        } catch {
          this.trouble = "Not kept: the application did not answer.";
        }
        this.sent = count;
      });
      this.keeping(this.done);
    },
    leave() {
      if (this.sent !== this.done) navigator.sendBeacon(this.$refs.keep.action, this.form());
    },
    destroy() {
      clearInterval(this.playing);
      this.stop();
      hush();
    },
  }));
});
