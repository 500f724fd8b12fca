// One letter for each main move of a page. Used by base.html; reads data-key of whatever can be pressed.
document.addEventListener("alpine:init", () => {
  Alpine.data("benchKeys", () => ({
    press(event) {
      if (event.altKey || event.metaKey || event.defaultPrevented) return;
      const typing = event.target.closest("input:not([type=radio]):not([type=checkbox]), textarea, select, dialog");
      if (typing) {
        if (event.key === "Escape") event.target.blur();
        return;
      }
      const name = (event.ctrlKey ? "ctrl " : "") + (event.key === " " ? "space" : event.key.toLowerCase());
      if (name === "?") return this.show(event);
      if (name === "enter" && event.target.closest("a, button, summary, input")) return;
      const target = [...document.querySelectorAll(`[data-key="${CSS.escape(name)}"]`)].find((each) => each.getClientRects().length);
      if (!target) return;
      event.preventDefault();
      if (target.matches("input")) target.focus();
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
