// Tick pieces off as they are cut. Used by lay/sheet.html; each row's form is sent without leaving the page.
document.addEventListener("alpine:init", () => {
  Alpine.data("cutTicks", () => ({
    cut: 0,
    words: "",
    init() {
      this.cut = Number(this.$root.dataset.cut);
    },
    async tick(event) {
      const box = event.target;
      const form = box.closest("form");
      const data = new FormData(form);
      data.set("cut", box.checked ? "1" : "0");
      try {
        const answer = await post(form.action, data, { mark: "X-Tick" });
        if (!answer.ok) throw new Error(answer.status);
        box.closest("tr").classList.toggle("is-cut", box.checked);
        this.cut += box.checked ? 1 : -1;
        this.words = "";
      } catch {
        box.checked = !box.checked;
        this.words = "Not kept: the application did not answer. Try again.";
      }
    },
  }));
});
