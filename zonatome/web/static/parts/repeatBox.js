// Choose one repeat in a photo of a cloth: drag the box or its edges, see how it goes on, or have it found.
// Used by lay/cloth.html.
document.addEventListener("alpine:init", () => {
  const NEAR = 24;
  const SIDES = ["left", "right", "upper", "lower"];
  Alpine.data("repeatBox", () => {
    let picture = null; // kept apart: a canvas does not take it from behind a proxy
    let small = null; // the same, small enough to be sent after every drag
    let even = null; // the boxed repeat as the server would keep it, its light evened out
    let asked = 0;
    return {
      shown: false,
      held: [],
      busy: false,
      words: "",
      init() {
        for (const side of SIDES) this.field(side).addEventListener("input", () => this.moved());
      },
      field(side) {
        return this.$root.querySelector(`[name=${side}]`);
      },
      share(side) {
        return Math.min(100, Math.max(0, Number(this.field(side).value) || 0)) / 100;
      },
      set(side, share) {
        this.field(side).value = (100 * Math.min(1, Math.max(0, share))).toFixed(1);
      },
      async show() {
        const file = this.$refs.file.files[0];
        this.words = "";
        [picture, small, even, this.shown] = [null, null, null, false];
        if (!file) return;
        try {
          picture = await createImageBitmap(file);
          this.shown = true;
        } catch {
          this.words = "This file can’t be shown here; the boxes below still say which part of it is one repeat.";
          return;
        }
        const shrunk = Math.min(1, 640 / Math.max(picture.width, picture.height));
        const sheet = this.$refs.photo;
        [sheet.width, sheet.height] = [Math.round(picture.width * shrunk), Math.round(picture.height * shrunk)];
        sheet.getContext("2d").drawImage(picture, 0, 0, sheet.width, sheet.height);
        small = await new Promise((done) => sheet.toBlob(done, "image/jpeg", 0.9));
        this.draw();
        await this.find();
      },
      async find() {
        const data = this.sent(this.$refs.file.files[0]);
        this.busy = true;
        try {
          const answer = await post(this.$root.dataset.findUrl, data);
          const told = await answer.json();
          this.words = told.words;
          for (const side of SIDES) if (told.box) this.set(side, told.box[side]);
        } catch {
          this.words = "The workroom’s computer did not answer; drag the box by hand.";
        }
        this.busy = false;
        await this.moved();
      },
      sent(photo) {
        const data = new FormData();
        data.set("photo", photo, "cloth.jpg");
        return data;
      },
      // the box is where it is wanted: see the repeat as it would be kept
      async moved() {
        even = null;
        this.draw();
        if (!small) return;
        const mine = (asked += 1);
        const data = this.sent(small);
        for (const side of SIDES) data.set(side, this.field(side).value);
        try {
          const answer = await post(this.$root.dataset.seeUrl, data);
          if (!answer.ok) return; // no whole box: what is drawn already shows that
          const seen = await createImageBitmap(await answer.blob());
          if (mine !== asked) return;
          even = seen;
          this.draw();
        } catch {
          return; // drawn as it was photographed
        }
      },
      spot(event) {
        const frame = this.$refs.photo.getBoundingClientRect();
        const [x, y] = [(event.clientX - frame.left) / frame.width, (event.clientY - frame.top) / frame.height];
        return { x, y, wide: frame.width, high: frame.height };
      },
      begin(event) {
        if (!picture) return;
        event.preventDefault();
        this.$refs.photo.setPointerCapture(event.pointerId);
        const at = this.spot(event);
        const off = { left: at.x, right: at.x, upper: at.y, lower: at.y };
        [even, asked] = [null, asked + 1];
        const size = { left: at.wide, right: at.wide, upper: at.high, lower: at.high };
        this.held = SIDES.filter((side) => Math.abs(off[side] - this.share(side)) * size[side] < NEAR);
        if (!this.held.length) this.held = [...SIDES];
        this.from = at;
      },
      drag(event) {
        if (!this.held.length) return;
        const at = this.spot(event);
        for (const [low, high, by] of [["left", "right", at.x - this.from.x], ["upper", "lower", at.y - this.from.y]]) {
          const both = this.held.includes(low) && this.held.includes(high);
          const moved = both ? Math.min(1 - this.share(high), Math.max(-this.share(low), by)) : by;
          for (const side of [low, high]) if (this.held.includes(side)) this.set(side, this.share(side) + moved);
        }
        this.from = at;
        this.draw();
      },
      end() {
        if (this.held.length) this.moved();
        this.held = [];
      },
      draw() {
        if (!picture) return;
        const [left, right, upper, lower] = SIDES.map((side) => this.share(side));
        const sheet = this.$refs.photo;
        const on = sheet.getContext("2d");
        on.drawImage(picture, 0, 0, sheet.width, sheet.height);
        on.fillStyle = "rgba(28, 34, 40, .55)";
        on.beginPath();
        on.rect(0, 0, sheet.width, sheet.height);
        const box = [left * sheet.width, upper * sheet.height];
        box.push((right - left) * sheet.width, (lower - upper) * sheet.height);
        on.rect(...box);
        on.fill("evenodd");
        on.lineWidth = 3;
        on.strokeStyle = "#f2d27a";
        on.strokeRect(...box);
        this.laid(left, right, upper, lower);
      },
      laid(left, right, upper, lower) {
        const sheet = this.$refs.laid;
        const on = sheet.getContext("2d");
        on.clearRect(0, 0, sheet.width, sheet.height);
        const [wide, high] = [(right - left) * picture.width, (lower - upper) * picture.height];
        if (wide < 1 || high < 1) return;
        const shape = Number(this.$root.dataset.shape) || high / wide;
        const across = Math.min(sheet.width / 3, sheet.height / 3 / shape);
        const along = across * shape;
        const drop = this.$root.dataset.drop ? along / 2 : 0;
        for (let column = 0; column * across < sheet.width; column++) {
          for (let row = -1; row * along < sheet.height; row++) {
            const y = row * along + (column % 2) * drop;
            const there = [column * across, y, across + 0.5, along + 0.5];
            if (even) on.drawImage(even, ...there);
            else on.drawImage(picture, left * picture.width, upper * picture.height, wide, high, ...there);
          }
        }
      },
    };
  });
});
