// A link that is copied by one press. Used by shop/quote.html; reads the box x-ref="link".
document.addEventListener("alpine:init", () => {
  Alpine.data("copyLink", () => ({
    words: "Copy the link",
    mark() {
      this.$refs.link.select();
    },
    async copy() {
      this.mark();
      try {
        await navigator.clipboard.writeText(this.$refs.link.value);
        this.words = "Copied";
      } catch {
        this.words = document.execCommand("copy") ? "Copied" : "Marked: copy it by hand";
      }
    },
  }));
});
