// What several parts of pages use: to send something without leaving the page, and where a drawing is touched.
// Used by base.html, before every part.

// Send it, with the page's own token; an answer that leads elsewhere is the sign-in's, and nothing was kept.
// `mark` names the header by which the server sees that no page is wanted.
window.post = async (address, data, { mark, keepalive = false } = {}) => {
  if (!data.has("csrfmiddlewaretoken")) {
    data.set("csrfmiddlewaretoken", document.querySelector("[name=csrfmiddlewaretoken]").value);
  }
  const headers = mark ? { [mark]: "1" } : {};
  const answer = await fetch(address, { method: "POST", body: data, headers, keepalive });
  if (answer.redirected) throw new Error("signed out");
  return answer;
};

// The place of a pointer in a drawing's own frame.
window.svgPoint = (svg, event) => {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [at.x, at.y];
};
