"""The sample workroom as data: its files name what there is, and what runs by itself runs whenever it is opened."""

from __future__ import annotations

import inspect
from datetime import date, time, timedelta

import pytest
from django.utils import timezone

from zonatome.core.survey.kinds import KINDS
from zonatome.web.demo.making import STEPS, glued_lately
from zonatome.web.demo.sample import photo_file, tags


def test_every_step_of_every_tag_is_one_that_there_is_and_is_told_what_it_takes():
    used = set()
    for tag in tags():
        for step in tag.steps:
            told = {name: value for name, value in step.items() if name != "do"}
            inspect.signature(STEPS[step["do"]]).bind("at", **told)  # raises TypeError for one too many or too few
            used.add(step["do"])
    assert used == set(STEPS), "a step that no tag takes is nobody's"


def test_each_tag_hangs_once_is_of_a_kind_and_has_the_photos_that_it_speaks_of():
    numbers = [tag.number for tag in tags()]
    assert numbers == sorted(set(numbers))
    for tag in tags():
        panels = {part.key for part in KINDS[tag.said["kind"]].panels}
        assert set(tag.shots) <= panels
        assert all(photo_file(tag.number, key).exists() for key in tag.shots)


@pytest.mark.parametrize(
    ("at", "sets_at"),
    [
        pytest.param(time(9, 0), (date(2026, 12, 1), time(10, 25)), id="in the morning: before noon"),
        pytest.param(time(15, 59), (date(2026, 12, 1), time(17, 24)), id="in the afternoon: today still"),
        pytest.param(time(16, 0), (date(2026, 12, 2), time(11, 0)), id="in the evening: tomorrow before noon"),
        pytest.param(time(23, 50), (date(2026, 12, 2), time(11, 0)), id="at night: tomorrow too"),
    ],
)
def test_the_sample_s_glue_sets_whenever_it_is_opened(clock, at, sets_at):
    clock(date(2026, 12, 1), at)
    glue = glued_lately()
    assert glue["began"] == timezone.localtime() - timedelta(minutes=35)
    assert (glue["until"].date(), glue["until"].time()) == sets_at
