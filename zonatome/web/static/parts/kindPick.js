// The picture of a kind follows the makes of it that are ticked. Used by rack/new_tag.html.
document.addEventListener("alpine:init", () => {
  Alpine.data("kindPick", () => ({
    tick(event) {
      if (event.target.name !== "variant") return;
      const group = event.target.closest("[data-kind]");
      const makes = [...group.querySelectorAll("[name=variant]:checked")].map((each) => each.value.split(":")[1]);
      const picture = document.querySelector(`[data-picture-of="${group.dataset.kind}"]`);
      const address = new URL(picture.src);
      address.search = makes.length ? new URLSearchParams({ makes: makes.join(",") }) : "";
      if (picture.src !== address.href) picture.src = address.href;
    },
  }));
});
