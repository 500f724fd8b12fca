// Shows the boxes for the repeats that a cloth's pattern has.
document.addEventListener("alpine:init", () => {
  Alpine.data("clothPattern", () => ({
    pattern: "plain",
    init() {
      const choice = this.$root.querySelector("select[name=pattern]");
      this.pattern = choice.value;
      choice.addEventListener("change", () => { this.pattern = choice.value; });
    },
    get isPatterned() { return this.pattern !== "plain"; },
    get hasMotif() { return this.pattern === "check" || this.pattern === "half_drop"; },
  }));
});
