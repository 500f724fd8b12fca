// Keep the sheet of a part as it is ticked and written. Used by strip/_hand.html; every judgement is the server's.
document.addEventListener("alpine:init", () => {
  Alpine.data("recordSheet", () => ({
    works: false,
    said: "",
    busy: false,
    dirty: false,
    init() {
      this.works = true;
      this.$root.addEventListener("input", (event) => {
        if (!event.target.matches("textarea, input:not([type=checkbox]):not([type=radio])")) return;
        this.dirty = true;
        clearTimeout(this.timer);
        // a pause in writing: nothing is lost however the page is closed
        this.timer = setTimeout(() => this.keep(), 700);
      });
    },
    async keep() {
      clearTimeout(this.timer);
      this.dirty = true;
      if (this.busy) return;
      this.busy = true;
      while (this.dirty) {
        this.dirty = false;
        try {
          const answer = await post(this.$root.action, new FormData(this.$root), { mark: "X-Quiet", keepalive: true });
          // somebody else saved it meanwhile: the page shows both
          if (answer.status === 409) return this.$root.submit();
          const told = await answer.json();
          this.said = answer.ok ? "Kept." : told.words;
          if (answer.ok) {
            this.$refs.version.value = told.version;
            this.lacking(told.checks);
          }
        } catch {
          this.said = "Not kept: the application did not answer. Try again.";
        }
      }
      this.busy = false;
    },
    lacking(checks) {
      const list = document.querySelector("#lacking ul");
      if (list) list.replaceChildren(...checks.map((check) => this.line(check)));
      document.getElementById("lacking")?.toggleAttribute("hidden", !checks.length);
      for (const line of document.querySelectorAll(".hand .said")) {
        line.hidden = !checks.some((check) => check.words === line.textContent.trim());
      }
    },
    line(check) {
      const line = document.createElement("li");
      line.append(Object.assign(document.createElement("a"), { href: check.address, textContent: check.words }));
      return line;
    },
    destroy() {
      clearTimeout(this.timer);
    },
    leave() {
      if (this.dirty && !this.busy) navigator.sendBeacon(this.$root.action, new FormData(this.$root));
    },
  }));
});
