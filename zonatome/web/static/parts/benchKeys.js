// One letter for each main move of a page. Used by base.html; reads data-key of whatever can be pressed.
document.addEventListener("alpine:init", () => {
  Alpine.data("benchKeys", () => ({
    init() {
      for (const each of this.around()) each.classList.toggle("key-taken", this.isTaken(each.dataset.key));
      document.documentElement.dataset.keys = "on"; // from here on a key is heard; the browser tests wait for it
    },
    // what every page has around its own: its keys give way to those of the page
    around() {
      return [...document.querySelectorAll("header [data-key]")];
    },
    isTaken(name) {
      return Boolean(name && document.querySelector(`main [data-key="${CSS.escape(name)}"]`));
    },
    press(event) {
      if (event.altKey || event.metaKey || event.defaultPrevented) return;
      const typed = "input:not([type=radio]):not([type=checkbox]):not([type=file]), textarea, select, dialog";
      const typing = event.target.closest(typed);
      if (typing) {
        if (event.key === "Escape") event.target.blur();
        return;
      }
      const name = (event.ctrlKey ? "ctrl " : "") + (event.key === " " ? "space" : event.key.toLowerCase());
      if (name === "?") return this.show(event);
      if (name === "enter" && event.target.closest("a, button, summary, input")) return;
      const shown = (each) => (each.closest("label") ?? each).getClientRects().length;
      const pressable = `[data-key="${CSS.escape(name)}"]`;
      const doors = [`main ${pressable}`, pressable].flatMap((each) => [...document.querySelectorAll(each)]);
      const target = doors.find(shown);
      if (!target) return;
      event.preventDefault();
      if (target.matches("input:not([type=file]), textarea")) target.focus();
      else target.click();
    },
    show(event) {
      event.preventDefault();
      const dialog = document.getElementById("keys");
      for (const row of dialog.querySelectorAll("[data-key-of]")) row.hidden = this.isTaken(row.dataset.keyOf);
      if (!dialog.open) dialog.showModal();
    },
    close() {
      document.getElementById("keys").close();
    },
  }));
});
