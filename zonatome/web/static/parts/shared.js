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

// Keeps what changes quickly: one is on its way at a time, so that none overtakes another, and the newest always goes.
window.newestKept = (send) => {
  let wanted = null;
  let isBusy = false;
  return async (value) => {
    wanted = value;
    if (isBusy) return;
    isBusy = true;
    while (wanted !== null) {
      const now = wanted;
      wanted = null;
      await send(now);
    }
    isBusy = false;
  };
};

// Said aloud by the browser's own voice, where it has one; what was being said before is cut short.
window.say = (words) => {
  if (!window.speechSynthesis) return;
  speechSynthesis.cancel();
  speechSynthesis.speak(new SpeechSynthesisUtterance(words));
};
window.hush = () => window.speechSynthesis?.cancel();

// The tab of the page that stands open, in the middle of a row of tabs that is wider than the page.
window.tabInSight = (tabs) => {
  const tab = tabs?.querySelector("[aria-current]");
  tab?.parentElement.scrollTo({ left: tab.offsetLeft - tab.parentElement.clientWidth / 2 + tab.clientWidth / 2 });
};

// The place of a pointer in a drawing's own frame.
window.svgPoint = (svg, event) => {
  const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [at.x, at.y];
};
