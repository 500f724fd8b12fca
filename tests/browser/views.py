"""The pages of the sample workroom that are looked at, and what is found on each when it is opened: its doors, its
forms, what does not fit a screen or is closed to somebody.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

from playwright.sync_api import Page

from tests.browser.doors import Door, House

VIEWS = [
    "/",
    "/?home=1",
    "/?q=chair",
    "/tags/new/",
    "/cloths/",
    "/saved/",
    "/tags/bring-in/",
    "/tags/126/survey/",
    "/tags/124/survey/panels/?part=inside_back",
    "/tags/118/survey/restyle/",
    "/tags/124/strip/",
    "/tags/118/strip/",
    "/tags/124/strip/look/outside_back/",
    "/tags/124/strip/?part=seat",
    "/tags/118/trace/inside_back/",
    "/tags/118/trace/seat/?way=file",
    "/tags/118/trace/ready/",
    "/tags/118/trace/inside_back/?look=true",
    "/tags/118/trace/outside_back/?look=seams",
    "/tags/118/trace/seat/?look=seams&walk=seat.right-side_left.left",
    "/tags/118/trace/seat/?look=marks",
    "/tags/118/trace/seat/?look=more",
    "/tags/118/trace/seat/?look=files&plot=dxf",
    "/tags/118/trace/seat/?way=offsets",
    "/tags/124/trace/seat/",
    "/tags/124/trace/outside_back/photo/",
    "/tags/124/trace/outside_back/photo/?again=1",
    "/tags/118/lay/",
    "/tags/118/lay/choose/",
    "/tags/127/lay/{Bollard, vinyl}/hand/",
    "/tags/122/lay/{Gannet, teal}/trial/",
    "/tags/126/lay/",
    "/tags/119/pad/",
    "/tags/124/pad/seat/",
    "/tags/119/fasten/top/",
    "/tags/119/rehearse/top/",
    "/tags/119/rehearse/top/?find=1",
    "/practice/",
    "/practice/stool/",
    "/practice/questions/strip/",
    "/practice/questions/relief/",
    "/practice/questions/pile/",
    "/tags/119/rehearse/top/seat/",
    "/tags/127/fasten/seat/",
    "/tags/124/fasten/outside_back/?stage=closings",
    "/tags/118/fasten/seat/?stage=sew",
    "/tags/127/fasten/seat/?stage=corners",
    "/tags/118/fasten/outside_back/?stage=cuts",
    "/tags/119/fasten/top/?stage=look",
    "/tags/123/trim/",
    "/tags/122/finish/",
    "/tags/118/money/",
    "/tags/118/log/",
    "/tags/118/money/quote/?with=keep_foam&count=1",
    "/tags/118/money/gather/",
    "/fortnight/",
    "/fortnight/hours/",
    "/fortnight/print/",
    "/stock/",
    "/record/?q=seat+staples",
    "/workroom/tools/",
    "/workroom/",
    "/workroom/rules/",
    "/workroom/people/",
    "/phone/",
    "/password/",
    "/taken-down/",
    "/cloths/{Skerry, slate}/",
    "/tags/118/edit/",
    "/tags/118/lay/{Skerry, slate}/cut-sheet/",
]
FORMS = """() => [...document.querySelectorAll("main form[method=post]")].map((form) =>
  [...form.elements].some((e) => e.name && e.matches("input[type=text], input:not([type]), textarea") &&
    e.getClientRects().length && !e.readOnly)
    ? form.getAttribute("action") ?? "" : null)"""
AXE = (Path(__file__).parent / "vendor/axe.min.js").read_text()  # from npm, for the tests alone
SERIOUS = """async (rules) =>
  (await axe.run(document, {resultTypes: ["violations"], preload: false, ...rules})).violations
  .filter(v => ["serious", "critical"].includes(v.impact)).map(v => `${v.id}: ${v.nodes[0].html.slice(0, 120)}`)"""
LAID_OUT = [
    "target-size",
    "scrollable-region-focusable",
    "meta-viewport",
    "link-in-text-block",
    "duplicate-id-aria",
    "label",
]
RULES = {
    "desk": {},
    "tablet": {"runOnly": {"type": "rule", "values": LAID_OUT}},
}  # what does not hang on the page's width is looked at once
SIZES = {"desk": (1280, 800), "tablet": (820, 1180), "phone": (390, 800)}


@dataclass
class Opened:
    """What a page has: its doors, what its forms with a box lead to, the keys that press another door; what is wrong
    with it before anything is pressed, where it was looked at.
    """

    path: str
    doors: list[Door]
    forms: list[str | None]
    wrong: list[str]
    astray: list[str]


def opened_each(at: House, views: list[str]) -> list[Opened]:
    """Open these pages one after the other, press every key of theirs, note what there is to press and to fill in."""
    at.back()
    found = []
    with checked_by_axe(at.page):
        for path in views:
            doors, forms = at.doors(path), at.page.evaluate(FORMS)
            wrong = looked_at(at.page)
            astray = at.led_astray(doors)
            wrong += at.watched.wrong
            at.watched.wrong.clear()
            found.append(Opened(path, doors, forms, wrong, astray))
    return found


@contextmanager
def checked_by_axe(page: Page) -> Iterator[None]:
    """Have the access check on every page that is opened meanwhile: sent once, it is half a megabyte."""
    session = page.context.new_cdp_session(page)
    session.send("Page.enable")
    sent = session.send("Page.addScriptToEvaluateOnNewDocument", {"source": AXE})
    yield
    session.send("Page.removeScriptToEvaluateOnNewDocument", sent)
    session.detach()


def looked_at(page: Page) -> list[str]:
    """What is wrong with a page on a desk, a tablet and a phone: too wide, closed to somebody, without a heading."""
    wrong = [] if page.evaluate("Boolean(document.querySelector('h1, h2'))") else ["no heading"]
    for size, (width, height) in SIZES.items():
        if size != "desk":  # it is opened on one
            page.set_viewport_size({"width": width, "height": height})
        wide = page.evaluate("document.documentElement.scrollWidth")
        wrong += [f"{wide} wide on a {size}"] if wide > width + 1 else []
        if size in RULES:
            wrong += [f"{size}: {what}" for what in page.evaluate(SERIOUS, RULES[size])]
    page.set_viewport_size(dict(zip(("width", "height"), SIZES["desk"], strict=True)))
    return wrong
