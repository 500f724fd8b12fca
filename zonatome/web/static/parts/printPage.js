// A page that is made to be printed. Used by fortnight/print.html and gather.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("printPage", () => ({
    print() {
      window.print();
    },
  }));
});
