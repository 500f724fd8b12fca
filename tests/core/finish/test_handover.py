"""The list that must be empty before it goes home."""

from dataclasses import replace

import pytest

from zonatome.core.finish.handover import Standing, still_open

READY = Standing(
    furniture=4,
    parts_on_again=3,
    parts_off=3,
    bags=1,
    bags_emptied=1,
    screws=4,
    holes_found=True,
    had_label=True,
    label_on=True,
    feet=4,
    feet_done=True,
    after_photos=1,
)


def test_nothing_is_open_when_all_is_done():
    assert still_open(READY) == ()


@pytest.mark.parametrize(
    ("change", "key", "words"),
    [
        ({"parts_on_again": 2}, "parts", "2 of 3"),
        ({"bags_emptied": 0}, "bags", "The bag is not empty yet"),
        ({"holes_found": False}, "holes", "16 screw holes"),
        ({"label_on": False}, "label", "label"),
        ({"feet_done": False}, "feet", "16 feet"),
        ({"after_photos": 0}, "photo", "photo after"),
    ],
)
def test_each_thing_left_is_named_with_its_count(change, key, words):
    (left,) = still_open(replace(READY, **change))
    assert left.key == key
    assert words in left.words


def test_what_there_never_was_is_not_asked_for():
    bare = replace(
        READY,
        screws=0,
        holes_found=False,
        had_label=False,
        label_on=False,
        feet=0,
        feet_done=False,
        bags=0,
        bags_emptied=0,
    )
    assert still_open(bare) == ()
