// Send a photo as soon as it is taken or chosen. Used by _photo_now.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("sendPhoto", () => ({
    send() {
      this.$root.submit();
    },
  }));
});
