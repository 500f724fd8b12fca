// Take a photo with this device's own camera, or choose one, and say that it is being traced. Used by trace/photo.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("takePhoto", () => ({
    can: false,
    live: false,
    busy: false,
    trouble: "",
    chosen: "",
    init() {
      this.can = Boolean(navigator.mediaDevices && navigator.mediaDevices.getUserMedia);
    },
    async look() {
      this.trouble = "";
      try {
        const wish = { video: { facingMode: "environment", width: { ideal: 4096 }, height: { ideal: 3072 } } };
        this.stream = await navigator.mediaDevices.getUserMedia(wish);
        this.$refs.view.srcObject = this.stream;
        await this.$refs.view.play();
        this.live = true;
      } catch {
        this.trouble = "No camera may be used here: take the photo with any other and choose the file.";
      }
    },
    async take() {
      const { videoWidth, videoHeight } = this.$refs.view;
      const sheet = document.createElement("canvas");
      [sheet.width, sheet.height] = [videoWidth, videoHeight];
      sheet.getContext("2d").drawImage(this.$refs.view, 0, 0);
      const picture = await new Promise((done) => sheet.toBlob(done, "image/jpeg", 0.94));
      const files = new DataTransfer();
      files.items.add(new File([picture], "camera.jpg", { type: "image/jpeg" }));
      this.$refs.file.files = files.files;
      this.close();
      this.chosen = `Taken: ${videoWidth} × ${videoHeight}. Trace it, or take another.`;
    },
    close() {
      for (const track of this.stream?.getTracks() ?? []) track.stop();
      this.live = false;
    },
    send() {
      this.busy = true;
    },
    destroy() { this.close(); },
  }));
});
