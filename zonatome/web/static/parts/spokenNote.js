// Speak a note over the part in hand; it is kept as sound on this machine.
// Used by strip/_hand.html; reads data-address.
document.addEventListener("alpine:init", () => {
  Alpine.data("spokenNote", () => ({
    can: false,
    recorder: null,
    trouble: "",
    init() {
      this.can = Boolean(navigator.mediaDevices && window.MediaRecorder);
    },
    get word() { return this.recorder ? "Stop and keep" : "Speak it"; },
    get tone() { return this.recorder ? "is-recording" : ""; },
    async press() {
      if (this.recorder) return this.recorder.stop();
      this.trouble = "";
      try {
        const sound = await navigator.mediaDevices.getUserMedia({ audio: true });
        const pieces = [];
        this.recorder = new MediaRecorder(sound);
        this.recorder.ondataavailable = (event) => pieces.push(event.data);
        this.recorder.onstop = () => {
          for (const track of sound.getTracks()) track.stop();
          this.send(new Blob(pieces, { type: this.recorder.mimeType }));
          this.recorder = null;
        };
        this.recorder.start();
      } catch {
        this.trouble = "No microphone may be used here.";
      }
    },
    async send(sound) {
      const data = new FormData();
      data.set("spoken", sound, "note");
      try {
        const answer = await post(this.$root.dataset.address, data);
        const told = await answer.json();
        this.trouble = answer.ok ? "Spoken note kept; it is played with the record." : told.words;
      } catch {
        this.trouble = "Not kept: the application did not answer.";
      }
    },
  }));
});
