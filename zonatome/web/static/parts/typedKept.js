// What was typed or ticked in one form of a page stays there when another form of it is sent. Used by base.html.
document.addEventListener("alpine:init", () => {
  const LONGEST = 60000; // ms: a page that comes back later is another one
  const place = () => `typed ${location.pathname}`;
  const NEVER = ["hidden", "file", "password", "submit", "button"];
  const boxes = (form) => [...form.elements].filter((box) => box.name && !NEVER.includes(box.type));
  const isOn = (box) => ["checkbox", "radio"].includes(box.type);
  const isChanged = (box) => {
    if (isOn(box)) return box.checked !== box.defaultChecked;
    if (box.type === "select-one") {
      const isTheFirst = (box.selectedOptions[0] || {}).defaultSelected;
      return !isTheFirst && [...box.options].some((option) => option.defaultSelected);
    }
    return box.value !== box.defaultValue;
  };
  Alpine.data("typedKept", () => ({
    init() {
      const kept = JSON.parse(sessionStorage.getItem(place()) || "null");
      sessionStorage.removeItem(place());
      if (!kept || Date.now() - kept.at > LONGEST) return;
      this.$nextTick(() => {
        const forms = [...this.$root.querySelectorAll("form")];
        for (const { action, many, values } of kept.forms) {
          const form = forms.filter((one) => one.getAttribute("action") === action)[many];
          for (const box of form ? boxes(form) : []) {
            const value = values.find(([name, told]) => name === box.name && (!isOn(box) || told === box.value));
            if (!value) continue;
            if (isOn(box)) box.checked = value[2];
            else box.value = value[1];
            box.dispatchEvent(new Event("change", { bubbles: true }));
          }
        }
      });
    },
    keep(event) {
      const counts = {};
      const forms = [];
      for (const form of this.$root.querySelectorAll("form")) {
        const action = form.getAttribute("action");
        const many = (counts[action] = (counts[action] ?? -1) + 1);
        if (form === event.target || form.method !== "post") continue;
        const changed = boxes(form).filter(isChanged);
        const values = changed.map((box) => [box.name, box.value, isOn(box) ? box.checked : null]);
        if (values.length) forms.push({ action, many, values });
      }
      if (forms.length) sessionStorage.setItem(place(), JSON.stringify({ at: Date.now(), forms }));
    },
  }));
});
