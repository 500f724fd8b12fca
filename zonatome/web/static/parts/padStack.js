// A pad's drawings follow while a figure is typed or dragged; what is pressed is sent without leaving the page.
// Used by pad/home.html.
document.addEventListener("alpine:init", () => {
  const PAUSE = 120; // ms without a letter before the drawings are asked for
  const MARK = "X-Quiet";
  Alpine.data("padStack", () => ({
    trouble: "",
    waiting: null,
    asking: null,
    held: null,
    pressed: null,
    init() {
      tabInSight(this.$root.querySelector(".pad-tabs"));
    },
    form() {
      return this.$root.querySelector("#stack");
    },
    typed(event) {
      if (event.target.form !== this.form()) return;
      if (event.isTrusted) delete event.target.dataset.mm; // typed by hand: the drawing says how thick it is
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.draw(), PAUSE);
    },
    async draw() {
      this.asking?.abort();
      this.asking = new AbortController();
      const form = this.form();
      try {
        const answer = await fetch(form.dataset.tried, {
          method: "POST", body: new FormData(form), headers: { [MARK]: "1" }, signal: this.asking.signal,
        });
        if (answer.redirected) throw new Error("signed out");
        if (!answer.ok) {
          this.trouble = (await answer.json()).words;
          return;
        }
        this.trouble = "";
        const made = document.createElement("template");
        made.innerHTML = await answer.text();
        for (const part of made.content.querySelectorAll("[data-part]")) {
          this.$root.querySelector(`[data-part="${part.dataset.part}"]`).innerHTML = part.innerHTML;
        }
      } catch (away) {
        if (away.name !== "AbortError") this.trouble = "Not drawn: the application did not answer.";
      }
    },
    // which button was pressed: a form that is sent by script does not say so by itself everywhere
    note(event) {
      this.pressed = event.target.closest("button");
    },
    async send(event) {
      const form = event.target;
      if (form !== this.form() && !form.matches("[action$='/undo/']")) return;
      event.preventDefault();
      event.stopPropagation();
      clearTimeout(this.waiting);
      const told = new FormData(form);
      const by = event.submitter ?? this.pressed;
      if (by?.name) told.set(by.name, by.value);
      await this.give(form.action, told);
    },
    async give(address, told) {
      try {
        const answer = await post(address, told, { mark: MARK });
        if ((answer.headers.get("content-type") ?? "").includes("json")) {
          this.trouble = (await answer.json()).words;
          return;
        }
        const at = document.activeElement?.name;
        this.trouble = "";
        this.$refs.pad.innerHTML = await answer.text();
        const desk = this.$refs.pad.querySelector("[data-figure]");
        const figure = document.querySelector(".tape [aria-current] .tape__figure");
        if (desk && figure) figure.textContent = desk.dataset.figure;
        this.$refs.pad.querySelector(at ? `[name="${CSS.escape(at)}"]` : "none")?.focus({ preventScroll: true });
      } catch {
        this.trouble = "Not kept: the application did not answer.";
      }
    },
    // a millimetre more or less by the arrow keys, in a box of a thickness; in a box that holds what is kept, Ctrl Z is
    // the page's own
    step(event) {
      const box = event.target;
      if (event.ctrlKey && event.key === "z" && box.matches?.("input, select") && !this.isChanged(box)) {
        event.preventDefault();
        event.stopPropagation();
        this.$root.querySelector("[data-key='ctrl z']").click();
        return;
      }
      if (!box.matches?.("[name$='-thickness']") || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
      event.preventDefault();
      const by = (event.shiftKey ? 5 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      const drawn = this.$root.querySelector(`.pad-cut [data-place="${box.name.match(/\d+/)[0]}"]`);
      box.dataset.mm = Math.max(1, Math.round(Number(box.dataset.mm ?? drawn?.dataset.mm ?? 0) + by));
      box.value = `${box.dataset.mm} mm`;
      box.dispatchEvent(new Event("input", { bubbles: true }));
    },
    isChanged(box) {
      if (box.tagName === "SELECT") return false;
      return box.value !== box.defaultValue;
    },
    // a layer's top is dragged in the section, a layer's row in the list
    grip(event) {
      const band = event.target.closest(".pad-cut [data-place]");
      const button = event.target.closest("[data-button]");
      if (button) return this.gripButton(event, button);
      const line = event.target.closest("[data-channel]");
      if (line) return this.gripChannel(event, line);
      const row = event.target.closest(".pad-layer__grip")?.closest(".pad-layer[data-place]");
      if (band) {
        const svg = band.closest("svg");
        const box = this.form().elements[`layer${band.dataset.place}-thickness`];
        const scale = Number(svg.dataset.scale) * (svg.getBoundingClientRect().width / svg.viewBox.baseVal.width);
        this.held = { box, scale, from: event.clientY, thick: Number(band.dataset.mm), moved: false };
      } else if (row) {
        this.held = { row };
        row.classList.add("is-held");
      } else return;
      event.preventDefault();
      this.$root.setPointerCapture(event.pointerId);
    },
    // an outer button is dragged: the whole grid opens or closes with it, about its middle
    gripButton(event, button) {
      const svg = button.closest("svg");
      const all = [...svg.querySelectorAll("[data-button]")].map((each) => [each.cx.baseVal.value, each.cy.baseVal.value]);
      const middle = [0, 1].map((n) => (Math.min(...all.map((at) => at[n])) + Math.max(...all.map((at) => at[n]))) / 2);
      const at = [button.cx.baseVal.value - middle[0], button.cy.baseVal.value - middle[1]];
      const boxes = ["across", "down"].map((name) => this.form().elements[name]);
      const was = [Number(svg.dataset.across), Number(svg.dataset.down)];
      this.held = { at, middle, boxes, was, least: Number(svg.dataset.least) };
      event.preventDefault();
      this.$root.setPointerCapture(event.pointerId);
    },
    pullButton(event) {
      const { at, middle, boxes, was, least } = this.held;
      const to = svgPoint(this.$root.querySelector(".pad-plan"), event); // another one after each drawing
      for (const n of [0, 1]) {
        if (Math.abs(at[n]) < 4 || !was[n]) continue; // one in the middle opens nothing
        boxes[n].value = `${Math.max(least, Math.round((was[n] * (to[n] - middle[n])) / at[n]))} mm`;
      }
      this.held.moved = true;
      this.redraw();
    },
    // a channel's line is dragged: all channels become wider or narrower, counted from the nearer side
    gripChannel(event, line) {
      const told = line.closest("svg").dataset;
      const at = Number(line.dataset.channel);
      const [side] = [told.channelBegins, told.channelEnds].map(Number).sort((a, b) => Math.abs(a - at) - Math.abs(b - at));
      this.held = {
        channel: at - side, side, axis: told.channelWay === "upright" ? 0 : 1,
        was: Number(told.channelApart), least: Number(told.channelLeast),
      };
      event.preventDefault();
      this.$root.setPointerCapture(event.pointerId);
    },
    pullChannel(event) {
      const { channel, side, axis, was, least } = this.held;
      const to = svgPoint(this.$root.querySelector(".pad-plan"), event)[axis];
      const box = this.form().elements.channel_apart;
      box.value = `${Math.max(least, Math.round((was * (to - side)) / channel))} mm`;
      this.held.moved = true;
      this.redraw();
    },
    redraw() {
      this.waiting ??= setTimeout(async () => {
        await this.draw();
        this.waiting = null;
      }, 30);
    },
    pull(event) {
      if (!this.held) return;
      if (this.held.row) return this.over(event);
      if (this.held.middle) return this.pullButton(event);
      if (this.held.channel) return this.pullChannel(event);
      const more = (this.held.from - event.clientY) / this.held.scale;
      if (Math.abs(more) < 1 && !this.held.moved) return;
      this.held.moved = true;
      this.held.box.value = `${Math.max(1, Math.round(this.held.thick + more))} mm`;
      this.redraw();
    },
    over(event) {
      const under = document.elementFromPoint(event.clientX, event.clientY)?.closest(".pad-layer[data-place]");
      for (const each of this.$root.querySelectorAll(".pad-layer")) each.classList.toggle("is-over", each === under);
      this.held.to = under?.dataset.place;
    },
    async letGo() {
      const held = this.held;
      this.held = null;
      if (!held) return;
      const told = new FormData(this.form());
      if (held.row) {
        for (const each of this.$root.querySelectorAll(".pad-layer")) each.classList.remove("is-over", "is-held");
        if (held.to === undefined || held.to === held.row.dataset.place) return;
        told.set("act", `move:${held.row.dataset.place}:${held.to}`);
      } else if (!held.moved) return;
      else told.set("act", "keep");
      clearTimeout(this.waiting);
      this.waiting = null;
      await this.give(this.form().action, told);
    },
  }));
});
