// The furniture in the round: the server's picture at once, then a model that is turned by hand where the machine can.
// Used by _in_round.html; reads data-picture, data-model, data-three, data-views, data-tones, data-link.
document.addEventListener("alpine:init", () => {
  const KEPT = "in the round"; // whether it stays open from page to page
  let library = null; // three.js is fetched once a page, when it is first wanted
  const script = (address) =>
    new Promise((done, failed) => {
      const made = document.createElement("script");
      made.src = address;
      made.onload = done;
      made.onerror = failed;
      document.head.append(made);
    });

  const painted = () => new Promise((done) => requestAnimationFrame(() => setTimeout(done)));

  Alpine.data("inTheRound", () => ({
    isShown: false,
    isLive: false,
    hasTurned: false,
    lit: "",
    trouble: "",
    // each its own, also where several stand on a page: what is not named here would be their page's
    table: null,
    views: null,
    view: null,
    map: null,
    init() {
      this.views = JSON.parse(this.$el.dataset.views);
      this.view = this.views[this.$el.dataset.view ?? "front_right"];
      this.map = document.querySelector(this.$el.dataset.instead || "none");
      if (this.map) this.map.before(this.$el);
      const isKept = sessionStorage.getItem(KEPT) === "1";
      if (this.$el.dataset.always || isKept) this.show();
      window.addEventListener("round-lit", (event) => this.light(event.detail));
      window.addEventListener("round-turned", (event) => event.detail.by !== this.root() && this.table?.turnLike(event.detail));
      window.addEventListener("round-changed", () => this.refresh());
    },
    toggle() {
      if (this.isShown) this.hide();
      else this.show();
    },
    hide() {
      this.isShown = false;
      this.map?.classList.remove("is-behind");
      sessionStorage.setItem(KEPT, "0");
    },
    show() {
      this.isShown = true;
      this.map?.classList.add("is-behind");
      if (!this.$el.closest("[data-always]")) sessionStorage.setItem(KEPT, "1");
      this.$nextTick(() => this.begin());
    },
    async begin() {
      const shown = Object.entries(this.tones()).find(([, tone]) => tone === "next");
      await this.picture(this.hasTurned || !shown ? "" : shown[0]);
      if (this.table) return;
      await painted(); // the picture is seen before the model begins
      const context = this.$refs.canvas.getContext("webgl2", { alpha: true, antialias: true });
      if (!context) return; // no WebGL here: the pictures stay, eight views of them
      try {
        library ??= script(this.root().dataset.three);
        await library;
        this.table = window.turntable(this.$refs.canvas, context, {
          onPress: (key) => this.press(key),
          onTurn: (at) => window.dispatchEvent(new CustomEvent("round-turned", { detail: { ...at, by: this.root() } })),
        });
        this.table.turnTo(this.view);
        await this.table.load(this.root().dataset.model);
        this.table.setTones(this.tones());
        this.isLive = true;
        this.table.fit();
      } catch (failure) {
        this.table = null; // no answer: the pictures stay
        this.isLive = false;
      }
    },
    root() {
      return this.$root;
    },
    // how each panel stands: as the opened-out drawing of the page has it, or as the page says
    tones() {
      const said = JSON.parse(this.root().dataset.tones || "{}");
      for (const each of document.querySelectorAll(".opened-out a[data-part]")) {
        const has = each.querySelector(".part")?.classList;
        if (!has) continue;
        const key = each.dataset.part;
        if (has.contains("part--off")) said[key] = "off";
        else if (has.contains("part--ready") || has.contains("part--in-hand")) said[key] = "next";
      }
      if (this.lit) said[this.lit] = "lit";
      return said;
    },
    // from the view that is set, or from the one that shows a panel best
    async picture(shown = "") {
      const told = Object.entries(this.tones()).map(([key, tone]) => `${key}:${tone === "lit" ? "next" : tone}`);
      const address = new URL(this.root().dataset.picture, location.href);
      address.searchParams.set("view", this.view.key);
      address.searchParams.set("tones", told.join(","));
      if (shown) address.searchParams.set("show", shown);
      try {
        const answer = await fetch(address);
        const text = await answer.text();
        if (!answer.ok || answer.redirected) throw new Error(text);
        this.$refs.flat.innerHTML = text;
        const view = this.views[answer.headers.get("X-View")];
        if (view) this.mark(view);
        this.trouble = "";
      } catch (failure) {
        this.trouble = "The picture did not come. Is the application still running?";
      }
    },
    mark(view) {
      this.view = view;
      for (const each of this.root().querySelectorAll("[data-view-key]")) {
        each.setAttribute("aria-pressed", String(each.value === view.key));
      }
    },
    see(event) {
      this.mark(this.views[event.currentTarget.value]);
      this.hasTurned = true;
      if (this.isLive) this.table.turnTo(this.view);
      else this.picture();
    },
    turn(event) {
      const way = { ArrowLeft: [-12, 0], ArrowRight: [12, 0], ArrowUp: [0, 8], ArrowDown: [0, -8] }[event.key];
      if (way && this.isLive) this.table.turnBy(...way);
      else if (way && way[0]) this.stepView(Math.sign(way[0]));
      else if (this.isLive && (event.key === "+" || event.key === "=")) this.table.zoomBy(1.15);
      else if (this.isLive && event.key === "-") this.table.zoomBy(1 / 1.15);
      else return;
      event.preventDefault();
    },
    stepView(by) {
      const keys = Object.keys(this.views);
      const next = keys[(keys.indexOf(this.view.key) + by + keys.length) % keys.length];
      this.see({ currentTarget: this.root().querySelector(`[data-view-key][value="${next}"]`) });
    },
    nearer() {
      this.table?.zoomBy(1.25);
    },
    farther() {
      this.table?.zoomBy(0.8);
    },
    pressFlat(event) {
      const met = event.target.closest("[data-part]");
      if (met) this.press(met.dataset.part);
    },
    // what is pressed here is in hand on the page too
    press(key) {
      if (!key) return;
      const link = document.querySelector(`.opened-out a[data-part="${CSS.escape(key)}"]`);
      const pick = document.querySelector(`[data-round-pick~="${CSS.escape(key)}"]`);
      if (link) location.assign(link.href.baseVal ?? link.href);
      else if (pick) pick.click();
      else window.dispatchEvent(new CustomEvent("round-lit", { detail: key }));
    },
    light(key) {
      this.lit = this.lit === key ? "" : key;
      const name = this.root().querySelector(`[data-name-of="${CSS.escape(this.lit)}"]`);
      this.$refs.lit.textContent = name ? name.textContent : "";
      if (this.isLive) this.table.setTones(this.tones());
      else this.picture();
    },
    async refresh() {
      if (!this.isShown) return;
      if (this.isLive) await this.table.load(this.root().dataset.model);
      else this.picture();
    },
  }));
});
