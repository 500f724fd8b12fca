// A board that is stapled in rehearsal: what is pressed or drawn is sent, what the server worked out is shown.
// Used by rehearse/panel.html and rehearse/piece.html. Nothing is worked out here.
document.addEventListener("alpine:init", () => {
  const MARK = "X-Quiet";
  const SOONER = 800; // milliseconds between two looks at the worker
  const FRAMES = 14; // pictures in which an order is played
  const SOON = 4; // pixels: what moves less is a press, not a line
  Alpine.data("rehearse", () => ({
    trouble: "",
    busy: "",
    pin: -1,
    sort: "dent",
    sights: [],
    line: null,
    filling: false,
    before: Promise.resolve(),
    root: null,
    timer: null,
    // what is pressed may be gone when its answer comes: the page is asked by its own root
    init() {
      this.root = this.$root;
      this.watchLater();
    },
    // while the worker plays orders, how far it is is asked for again and again
    watchLater() {
      clearTimeout(this.timer);
      if (this.root.querySelector("[data-moving]")) this.timer = setTimeout(() => this.look(), SOONER);
    },
    async look() {
      try {
        const answer = await fetch(this.root.dataset.ordersUrl, { headers: { [MARK]: "1" } });
        const place = this.root.querySelector("[data-part=orders]");
        if (answer.ok && !answer.redirected && place) place.innerHTML = await answer.text();
        const awaited = this.root.querySelector("[data-awaited]")?.dataset.awaited;
        const played = place?.querySelector("[data-names]")?.dataset.names.split("|") ?? [];
        if (awaited && played.includes(awaited)) return location.reload();
      } catch {
        // the server is away for a moment: look again
      }
      this.watchLater();
    },
    destroy() {
      clearTimeout(this.timer);
    },
    board() {
      return this.root.querySelector("[data-part=board] svg");
    },
    async press(event) {
      const button = event.target.closest("[data-what], [data-fill], [data-judge]");
      if (button) return this.pushed(button);
      if (this.root.dataset.finding || !this.board().contains(event.target)) return;
      const pin = event.target.closest("[data-pin]");
      if (pin) return this.take(Number(pin.dataset.pin));
      const spot = event.target.closest("[data-spot]");
      if (spot) return this.send({ what: "set", number: spot.dataset.spot });
      const [x, y] = svgPoint(this.board(), event);
      return this.send({ what: "press", x, y: Number(this.board().dataset.top) - y });
    },
    take(pin) {
      this.pin = this.pin === pin ? -1 : pin;
      this.mark();
    },
    mark() {
      for (const each of this.board().querySelectorAll("[data-pin]")) {
        each.classList.toggle("is-held", Number(each.dataset.pin) === this.pin);
      }
    },
    async pushed(button) {
      const { what, pull, school } = button.dataset;
      if ("fill" in button.dataset) return this.fill({ what: "follow" }, "each place is tried");
      if (what === "play") return this.fill({ what, school, count: this.frame() }, `${school} is played`);
      if ("judge" in button.dataset) return this.ask(this.root.dataset.scoreUrl, {});
      if ("ofPin" in button.dataset && this.pin < 0) return;
      const told = { what };
      if (pull) told.pull = pull;
      if (school) told.school = school;
      if ("ofPin" in button.dataset) told.number = this.pin;
      if (what === "out" || what === "anew" || what === "undo") this.pin = -1;
      await this.send(told);
    },
    // how many staples are set between two pictures of an order that is played
    frame() {
      return Math.ceil(this.board().querySelectorAll("[data-spot], [data-pin]").length / FRAMES);
    },
    // one after the other, as the server finds or knows them; any press or Escape stops it
    async fill(told, words) {
      if (this.filling) {
        this.filling = false;
        return;
      }
      this.filling = true;
      if (!this.board().querySelector("[data-spot]")) await this.ask(this.root.dataset.doUrl, told);
      while (this.filling && this.board().querySelector("[data-spot]")) {
        const left = this.board().querySelectorAll("[data-spot]").length;
        this.busy = `${left} left: ${words}. Press again, or Escape, to stop.`;
        if (!(await this.ask(this.root.dataset.doUrl, told))) break;
      }
      this.filling = false;
      this.busy = "";
    },
    async send(told) {
      this.filling = false;
      return this.ask(this.root.dataset.doUrl, told);
    },
    // what is pressed while the server is at work is done after it, in its order
    ask(address, told) {
      this.before = this.before.then(() => this.asked(address, told));
      return this.before;
    },
    async asked(address, told) {
      const data = new FormData();
      for (const [name, value] of Object.entries(told)) data.set(name, value);
      if (!this.busy) this.busy = "Working it out …";
      this.board().classList.add("is-busy");
      const had = document.activeElement?.dataset ?? {};
      try {
        const answer = await post(`${address}${location.search}`, data, { mark: MARK });
        if ((answer.headers.get("content-type") ?? "").includes("json")) {
          this.trouble = (await answer.json()).words;
          return false;
        }
        if (!answer.ok) throw new Error(answer.status);
        const made = document.createElement("template");
        made.innerHTML = await answer.text();
        for (const part of made.content.querySelectorAll("[data-part]")) {
          this.root.querySelector(`[data-part="${part.dataset.part}"]`).innerHTML = part.innerHTML;
        }
        this.trouble = "";
        if (this.pin >= this.board().querySelectorAll("[data-pin]").length) this.pin = -1;
        this.mark();
        this.redraw();
        this.watchLater();
        if (had.what) this.refocus(had);
        if (had.pin) this.root.querySelector(`[data-pin="${had.pin}"]`)?.focus({ preventScroll: true });
        return true;
      } catch {
        this.trouble = "Not kept: the application did not answer.";
        return false;
      } finally {
        this.board().classList.remove("is-busy");
        if (!this.filling) this.busy = "";
      }
    },
    refocus({ what, school, pull }) {
      const same = [...this.root.querySelectorAll(`[data-what="${what}"]`)];
      const found = same.find((each) => each.dataset.school === school && each.dataset.pull === pull) ?? same[0];
      found?.focus({ preventScroll: true });
    },
    // from place to place by the arrow keys, a staple there by Enter
    key(event) {
      if (event.key === "Escape") this.filling = false;
      const pin = event.target.closest?.("[data-pin]");
      if (pin && ["Enter", " "].includes(event.key)) {
        event.preventDefault();
        event.stopPropagation();
        return this.take(Number(pin.dataset.pin));
      }
      if (!["ArrowLeft", "ArrowRight", "Enter"].includes(event.key) || event.altKey || event.ctrlKey) return;
      if (event.target.closest?.("a, button, summary, input, select, textarea, dialog")) return;
      const spots = [...this.board().querySelectorAll("[data-spot]")];
      const at = spots.findIndex((each) => each.classList.contains("is-chosen"));
      const next = spots.findIndex((each) => each.classList.contains("is-next"));
      if (event.key === "Enter") {
        const spot = spots[at >= 0 ? at : next];
        if (!spot) return;
        event.preventDefault();
        event.stopPropagation();
        return this.send({ what: "set", number: spot.dataset.spot });
      }
      if (!spots.length) return;
      event.preventDefault();
      pin?.blur();
      const by = event.key === "ArrowRight" ? 1 : -1;
      for (const each of spots) each.classList.remove("is-chosen");
      spots[(at < 0 ? Math.max(next, 0) : at + by + spots.length) % spots.length].classList.add("is-chosen");
    },
    // what is seen on the real seat, drawn over the board
    begin(event) {
      if (!this.root.dataset.finding || !this.board().contains(event.target)) return;
      event.preventDefault();
      this.line = [svgPoint(this.board(), event)];
      this.root.setPointerCapture(event.pointerId);
    },
    go(event) {
      if (!this.line) return;
      this.line.push(svgPoint(this.board(), event));
      this.redraw();
    },
    end() {
      const line = this.line;
      this.line = null;
      if (!line) return;
      const [a, b] = [line[0], line[line.length - 1]];
      if (Math.hypot(a[0] - b[0], a[1] - b[1]) >= SOON) {
        const every = Math.ceil(line.length / 100);
        this.sights.push([this.sort, line.filter((_, n) => n % every === 0 || n === line.length - 1)]);
      }
      this.redraw();
    },
    unsee() {
      this.sights.pop();
      this.redraw();
    },
    redraw() {
      for (const old of this.board().querySelectorAll(".sheet-sight")) old.remove();
      const all = this.line ? [...this.sights, [this.sort, this.line]] : this.sights;
      for (const [sort, line] of all) {
        const path = document.createElementNS(this.board().namespaceURI, "path");
        path.setAttribute("d", `M${line.map((at) => at.join(" ")).join("L")}`);
        path.setAttribute("class", `sheet-sight sheet-sight--${sort}`);
        this.board().append(path);
      }
    },
    find() {
      return this.tell({});
    },
    compare() {
      return this.tell({ what: "compare" });
    },
    tell(more) {
      const top = Number(this.board().dataset.top);
      const told = this.sights.map(([sort, line]) => [sort, line.map(([x, y]) => [x, top - y])]);
      return this.ask(this.root.dataset.faultUrl, { ...more, sights: JSON.stringify(told) });
    },
  }));
});
