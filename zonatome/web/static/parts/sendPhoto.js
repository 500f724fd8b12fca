// Send a photo as soon as it is taken or chosen. Used by strip/_hand.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("sendPhoto", () => ({
    send() {
      this.$root.submit();
    },
  }));
});
