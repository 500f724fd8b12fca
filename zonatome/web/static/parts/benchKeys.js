// One letter for each main move of a page. Used by base.html; reads data-key of whatever can be pressed.
document.addEventListener("alpine:init", () => {
  Alpine.data("benchKeys", () => ({
    init() {
      document.documentElement.dataset.keys = "on"; // from here on a key is heard; the browser tests wait for it
    },
    press(event) {
      if (event.altKey || event.metaKey || event.defaultPrevented) return;
      const typing = event.target.closest("input:not([type=radio]):not([type=checkbox]):not([type=file]), textarea, select, dialog");
      if (typing) {
        if (event.key === "Escape") event.target.blur();
        return;
      }
      const name = (event.ctrlKey ? "ctrl " : "") + (event.key === " " ? "space" : event.key.toLowerCase());
      if (name === "?") return this.show(event);
      if (name === "enter" && event.target.closest("a, button, summary, input")) return;
      const shown = (each) => (each.closest("label") ?? each).getClientRects().length;
      const target = [...document.querySelectorAll(`[data-key="${CSS.escape(name)}"]`)].find(shown);
      if (!target) return;
      event.preventDefault();
      if (target.matches("input:not([type=file]), textarea")) target.focus();
      else target.click();
    },
    show(event) {
      event.preventDefault();
      const dialog = document.getElementById("keys");
      if (!dialog.open) dialog.showModal();
    },
    close() {
      document.getElementById("keys").close();
    },
  }));
});
