// Shows the boxes for the repeats that a cloth's pattern has.
// Used by lay/_cloth_form.html; reads which patterns have them.
document.addEventListener("alpine:init", () => {
  Alpine.data("clothPattern", () => ({
    pattern: "",
    init() {
      const choice = this.$root.querySelector("select[name=pattern]");
      this.pattern = choice.value;
      choice.addEventListener("change", () => { this.pattern = choice.value; });
    },
    isOneOf(patterns) { return patterns.split(" ").includes(this.pattern); },
    get isPatterned() { return this.isOneOf(this.$root.dataset.patterned); },
    get hasMotif() { return this.isOneOf(this.$root.dataset.withMotif); },
  }));
});
