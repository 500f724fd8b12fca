"""Take the pictures in docs/screenshots from a sample workroom that `make demo PORT=8123` has just opened.

python bench/screenshots.py http://127.0.0.1:8123
"""

from __future__ import annotations

import shutil
import sys
from pathlib import Path

from playwright.sync_api import sync_playwright

TO = Path(__file__).resolve().parents[1] / "docs/screenshots"
SOFTWARE_GL = ["--use-gl=angle", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--ignore-gpu-blocklist"]
DESK = {"width": 1280, "height": 800}
CHROMIUMS = ("chromium", "chromium-headless-shell")
TABLET = {"width": 820, "height": 1180}
VIEWS = [
    ("rack", "/", "", DESK),
    ("survey", "/tags/118/survey/", "", DESK),
    ("strip", "/tags/124/strip/", "0", DESK),
    ("new-tag", "/tags/new/", "", DESK),
    ("cloth-in-place", "/tags/122/lay/5/seen/", "", DESK),
    ("how-it-was", "/tags/124/strip/look/outside_back/", "", DESK),
    ("trace", "/tags/118/trace/inside_back/", "", DESK),
    ("photo", "/tags/124/trace/outside_back/photo/", "", DESK),
    ("lay", "/tags/125/lay/", "", DESK),
    ("pad", "/tags/118/pad/seat/", "", DESK),
    ("fasten", "/tags/127/fasten/seat/?stage=staples", "Space " * 10, DESK),
    ("trim", "/tags/123/trim/", "", DESK),
    ("finish", "/tags/122/finish/", "", DESK),
    ("money", "/tags/118/money/", "", DESK),
    ("fortnight", "/fortnight/", "", DESK),
    ("quote", "/tags/118/money/quote/?with=keep_foam&count=1", "", DESK),
    ("rehearse", "/tags/119/rehearse/top/?beside=round and round", "@Cross_first", DESK),
    ("lay-by-hand", "/tags/118/lay/1/hand/", "", TABLET),
]


def main(address: str) -> None:
    """Sign in with the sample login and take each view once."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=next(filter(None, map(shutil.which, CHROMIUMS))), args=["--no-sandbox", *SOFTWARE_GL]
        )
        page = browser.new_page()
        page.goto(f"{address}/login/")
        page.get_by_label("Username").fill("ines")
        page.get_by_label("Password").fill("quayside")
        page.get_by_role("main").get_by_role("button").click()
        for name, path, keys, size in VIEWS:
            page.set_viewport_size(size)
            page.goto(address + path)
            page.wait_for_load_state("networkidle")
            for key in keys.split():
                if key.startswith("@"):  # a button, by its words
                    page.get_by_role("button", name=key[1:].replace("_", " ")).click()
                else:
                    page.keyboard.press(key)
            if page.locator(".rehearsal-busy").count():  # a rehearsal, worked out act by act
                page.wait_for_timeout(500)
                page.locator(".rehearsal-busy").wait_for(state="hidden", timeout=120_000)
            if page.locator(".round__look:visible").count():  # the furniture in the round: its model
                page.locator(".round__live canvas").first.wait_for(state="visible", timeout=60_000)
                page.wait_for_timeout(1500)
            page.wait_for_timeout(300)
            page.screenshot(path=TO / f"{name}.png")
        page.set_viewport_size(DESK)
        page.goto(f"{address}/tags/118/money/quote/?with=keep_foam&count=1")
        page.get_by_role("button", name="Keep it and make the link").click()
        page.goto(page.get_by_label("Link for the client").input_value())  # what the client sees
        page.wait_for_load_state("networkidle")
        page.screenshot(path=TO / "client.png")
        page.goto(f"{address}/tags/118/money/quote/")
        page.get_by_role("button", name="Withdraw it").click()
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000")
