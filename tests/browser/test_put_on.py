"""The sample's wing chair and ottoman from pad to hand-over: by key at a laptop, by thumb and voice at a tablet."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass

import pytest
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Watched, sign_in, watch

pytestmark = pytest.mark.browser
# the browser's own voice, of which only what it is asked to say is kept
VOICE = """window.spoken = [];
window.SpeechSynthesisUtterance = class { constructor(words) { this.text = words; } };
Object.defineProperty(window, "speechSynthesis", {
  value: { speak: (one) => window.spoken.push(one.text), cancel: () => {} },
});"""


def picture() -> dict:
    """A photo as a file that is chosen."""
    photo = io.BytesIO()
    Image.new("RGB", (800, 600), "tan").save(photo, "JPEG")
    return {"name": "chair.jpg", "mimeType": "image/jpeg", "buffer": photo.getvalue()}


def wide(page) -> bool:
    return page.evaluate("document.documentElement.scrollWidth <= document.documentElement.clientWidth + 1")


@dataclass
class Walk:
    """Somebody at the bench: at a laptop by key and mouse, at a tablet by thumb and voice."""

    watched: Watched
    by_thumb: bool

    @property
    def page(self) -> Page:
        return self.watched.page

    def press(self, button: Locator, key: str = "") -> None:
        """Press a button: by its key where there are keys."""
        if self.by_thumb:
            button.tap()
        elif key:
            self.watched.keys.press(key)
        else:
            button.click()

    def on(self, role: str = "button") -> None:
        """Say that a stage is done, and on to the next."""
        before = self.page.url
        self.press(self.page.get_by_role(role, name=re.compile("^(Done, on|On) to")).first, "Enter")
        expect(self.page).not_to_have_url(before)
        self.watched.keys.heard()

    def draw(self, across: Locator) -> None:
        """Draw a bent line over something: down to its middle and up again."""
        box = across.bounding_box()
        at = [
            (box["x"] + box["width"] * x, box["y"] + box["height"] * y)
            for x, y in ((0.3, 0.4), (0.4, 0.45), (0.5, 0.5), (0.6, 0.45), (0.7, 0.4))
        ]
        if not self.by_thumb:
            self.page.mouse.move(*at[0])
            self.page.mouse.down()
            for x, y in at[1:]:
                self.page.mouse.move(x, y)
            self.page.mouse.up()
            return
        session = self.page.context.new_cdp_session(self.page)
        for n, (x, y) in enumerate(at):
            kind = "touchMove" if n else "touchStart"
            session.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": x, "y": y}]})
        self.page.wait_for_timeout(150)  # a thumb that is lifted at once flings, and the next tap only stops that
        session.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


def sews(walk: Walk) -> None:
    """Seam after seam, one back, all of them; closed and come back."""
    page, now = walk.page, walk.page.locator("h1.puton__now")
    first = now.inner_text()
    sewn = page.get_by_role("button", name=re.compile("^It is sewn"))
    walk.press(sewn, "Space")
    expect(now).not_to_have_text(first)
    assert page.locator("svg .seam.is-now").count() >= 1
    walk.press(page.get_by_role("button", name=re.compile("^Back")), "Backspace")
    expect(now).to_have_text(first)
    for _ in range(20):
        if now.inner_text() == "All sewn":
            break
        walk.press(sewn, "Space")
    expect(now).to_have_text("All sewn")
    expect(page.locator("[data-kept=yes]")).to_have_count(1)
    page.reload()
    walk.watched.keys.heard()
    expect(now).to_have_text("All sewn")
    walk.on("link")


def ticks(walk: Walk) -> None:
    """What is looked at before the second staple."""
    expect(walk.page.get_by_role("heading", name="Look before the second staple")).to_be_visible()
    walk.press(walk.page.get_by_role("button", name=re.compile("Its top is up")))
    expect(walk.page.locator("[aria-pressed=true]", has_text="Its top is up")).to_be_visible()
    walk.on()


def staples(walk: Walk) -> None:
    """The first ones by key, or by thumb and said aloud; closed and come back; one to the beat; then all."""
    page = walk.page
    expect(page.locator("h1.puton__now")).to_have_text(re.compile("^(Staple 1|All in)$"))
    if page.locator("h1.puton__now").inner_text() == "All in":  # another pitch: it begins again
        page.locator("summary", has_text="Pitch, rows and order").click()
        page.get_by_label("A staple every").fill("17")
        walk.press(page.get_by_role("button", name="Plan again"))
    expect(page.get_by_role("heading", name="Staple 1")).to_be_visible()
    walk.watched.keys.heard()
    walk.press(page.get_by_role("button", name="Speak"), "v")
    for _ in range(3):
        walk.press(page.get_by_role("button", name=re.compile("^Next")), "Space")
    expect(page.locator(".staple-group.is-in")).to_have_count(3)
    said = page.evaluate("window.spoken")
    assert [words.split(".")[0] for words in said] == ["Staple 1", "Staple 2", "Staple 3", "Staple 4"]
    assert said[3] == f"Staple 4. {page.locator('.puton__say').inner_text()}", "what is said is what stands there"
    expect(page.locator("[data-kept=yes]")).to_have_count(1)
    page.reload()
    walk.watched.keys.heard()
    expect(page.locator(".staple-group.is-in")).to_have_count(3)
    page.get_by_label("Seconds between two staples").select_option("3")
    beat = page.get_by_role("button", name="Beat")
    walk.press(beat, "b")
    expect(page.locator(".staple-group.is-in")).to_have_count(4, timeout=8000)
    walk.press(beat, "b")
    for _ in range(4):  # one after the other of a set
        if page.locator("h1.puton__now").inner_text() == "All in":
            break
        walk.press(page.get_by_role("button", name=re.compile("All of this one")), "d")
    expect(page.get_by_role("heading", name="All in")).to_be_visible()
    expect(page.locator("[data-kept=yes]")).to_have_count(1)
    walk.on("link")


def folds(walk: Walk) -> None:
    """A corner, step by step; another fold for it."""
    page = walk.page
    walk.press(page.get_by_role("button", name=re.compile("^(Next|Folded)")).first, "Space")
    expect(page.locator("figure.is-now")).to_contain_text(re.compile("."))
    page.get_by_role("button", name="Triangle").click()
    expect(page.locator("h2", has_text="Triangle")).to_be_visible()
    walk.on()


def cuts(walk: Walk) -> None:
    """A Y toward a post."""
    page = walk.page
    page.get_by_label("Its middle, from the left").fill("6")
    page.get_by_label("From the front or lower edge").fill("4")
    page.get_by_label("How wide").fill("40")
    page.get_by_label("Cut", exact=True).select_option("y")
    walk.press(page.get_by_role("button", name="Reckon the cut"))
    expect(page.locator("svg .post")).to_have_count(1)
    expect(page.locator("svg .cut")).to_have_count(3)
    walk.watched.keys.heard()
    walk.on()


def closes(walk: Walk) -> None:
    """Each edge on show has its steps."""
    assert walk.page.locator(".puton__closings").count()
    walk.on()


def looks(walk: Walk) -> None:
    """Something found in words and cured; a photo with a line on it; then it is on."""
    page = walk.page
    page.locator("summary", has_text="A ripple along an edge").click()
    page.get_by_label("Where, in words").first.fill("above the left arm")
    walk.press(page.get_by_role("button", name="Found it").first)
    expect(page.locator(".puton__side")).to_contain_text("above the left arm")
    walk.press(page.get_by_role("button", name="Cured"))
    expect(page.locator(".puton__now")).to_have_text("Nothing found yet")
    page.locator("[name=photo][type=file]").set_input_files(picture())
    drawn = page.locator(".photo-lines__photo")
    drawn.scroll_into_view_if_needed()
    walk.press(page.get_by_role("button", name="Keep this line"))
    expect(page.get_by_text("Draw a line on the photo first, with a finger")).to_be_visible()
    drawn.scroll_into_view_if_needed()
    walk.draw(drawn)
    page.get_by_label("What it shows").select_option("stripe")
    walk.press(page.get_by_role("button", name="Keep this line"))
    # 0.1 of 600 pixels over 0.4 of 800: 60 / 320
    expect(page.locator(".puton__side")).to_contain_text(re.compile(r"off straight by 18\.\d %"))
    expect(page.locator(".seen-number")).to_have_count(1)
    walk.watched.keys.heard()
    walk.press(page.get_by_role("button", name=re.compile("^It is on")), "Enter")
    expect(page.get_by_role("button", name=re.compile("^Not on after all"))).to_be_visible()


STAGES = {"sew": sews, "square": ticks, "staples": staples, "corners": folds, "cuts": cuts, "closings": closes,
          "surplus": Walk.on, "look": looks}  # fmt: skip


@pytest.mark.parametrize(
    ("tag", "pad", "panel", "by_thumb"),
    [
        pytest.param(123, "top", "front", True, id="the ottoman by thumb at 820"),
        pytest.param(124, "inside_wing_left", "inside_wing_left", False, id="the wing chair by key at 1280"),
    ],
)
def test_from_its_pad_to_hand_over(browser, sample, tag, pad, panel, by_thumb):
    size = {"width": 820, "height": 1180} if by_thumb else {"width": 1280, "height": 800}
    watched = watch(browser, sample, viewport=size, has_touch=by_thumb)
    sign_in(watched)
    page, walk = watched.page, Walk(watched, by_thumb)
    page.add_init_script(VOICE)
    watched.go(f"/tags/{tag}/pad/{pad}/")
    walk.press(page.get_by_role("button", name="This is the pad"))
    expect(page.locator(".pad-tabs [aria-current].is-done")).to_have_count(1)

    watched.go(f"/tags/{tag}/fasten/{panel}/")
    watched.keys.heard()
    stages = page.locator(".puton__stages a")
    keys = [stages.nth(n).get_attribute("href").removeprefix("?stage=") for n in range(stages.count())]
    watched.go(f"/tags/{tag}/fasten/{panel}/?stage={keys[0]}")
    watched.keys.heard()
    for key in keys:
        expect(page.locator(f".puton__stages a[aria-current][href='?stage={key}']")).to_have_count(1)
        STAGES[key](walk)
        assert wide(page), key

    watched.go(f"/tags/{tag}/trim/")
    if page.get_by_role("button", name="All of them").count():
        walk.press(page.get_by_role("button", name="All of them"))
    expect(page.locator(".trim-line.is-listed").first).to_be_attached()
    walk.press(page.get_by_role("link", name="Nails").first)
    page.get_by_label("Apart, middle to middle").fill("30")
    page.get_by_label("From corner to corner").fill("56, 46, 56, 46")
    walk.press(page.get_by_role("button", name=re.compile("Nail this line")))
    expect(page.locator(".nail--corner").nth(3)).to_be_attached()
    watched.keys.heard()
    walk.press(page.get_by_role("button", name=re.compile("^Next")), "Space")
    expect(page.locator(".nail.is-in")).to_have_count(1)
    with page.expect_download() as strip:
        walk.press(page.get_by_role("link", name=re.compile("Paper strip")))
    assert strip.value.path().read_bytes().startswith(b"%PDF")

    watched.go(f"/tags/{tag}/finish/")
    page.get_by_label("Wood of one, m²").fill("0.3")
    walk.press(page.get_by_role("button", name="Plan the coats"))
    page.get_by_label("A coat of").select_option("oil")
    walk.press(page.get_by_role("button", name="A coat more"))
    expect(page.locator(".puton__runs")).to_contain_text("Oil")
    for _ in range(5):
        walk.press(page.get_by_role("button", name="The next is done"))
    expect(page.locator("body")).to_contain_text("oil dries, until")
    page.get_by_label("Care, as the seller").fill("Vacuum, no water")
    walk.press(page.get_by_role("button", name="Keep it"))
    with page.expect_download() as paper:
        walk.press(page.get_by_role("link", name="Paper for the client"))
    assert paper.value.path().read_bytes().startswith(b"%PDF")
    assert wide(page)

    left = page.locator(".open-list > li")
    for words in ["All of them are on", "Emptied", "Done", "Done"]:
        for_it = page.get_by_role("button", name=words, exact=True)
        for _ in range(for_it.count()):
            count = left.count()
            walk.press(for_it.first)
            expect(left).not_to_have_count(count)
    page.get_by_label("Photo after").set_input_files(picture())
    walk.press(page.get_by_role("button", name="Keep photo"))
    expect(page.get_by_role("heading", name="The list is empty")).to_be_visible()
    watched.keys.heard()
    walk.press(page.get_by_role("button", name=re.compile("^It goes home")), "Enter")
    expect(page).to_have_url(watched.address + "/")
    watched.go(f"/tags/{tag}/finish/")
    expect(page.get_by_role("heading", name=re.compile("^Gone home"))).to_be_visible()
    assert watched.wrong == []
