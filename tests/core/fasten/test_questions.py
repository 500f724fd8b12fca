"""Questions at the steps: many of each topic, their answers against the rules worked out once more, apart from them."""

from __future__ import annotations

import itertools
import re

import pytest

from zonatome.core.errors import BadInput
from zonatome.core.fasten.questions import TOPICS, question
from zonatome.core.strip.order import thing_name, things, usual_order
from zonatome.core.survey.kinds import KINDS

MANY = 150


def each(topic):
    return [question(topic, number) for number in range(MANY)]


@pytest.mark.parametrize("topic", list(TOPICS))
def test_a_question_has_one_right_answer_among_others_and_comes_again_as_it_was(topic):
    for number, one in enumerate(each(topic)):
        assert len(set(one.choices)) == len(one.choices) >= 3, number
        assert 0 <= one.right < len(one.choices)
        assert one.worked
        assert question(topic, number) == one
    places = {one.right for one in each(topic)}
    assert places >= {0, 1, 2}  # the right one is not always in the same place
    assert len({one.asks for one in each(topic)}) > 12


def test_what_comes_off_next_has_nothing_over_it_and_the_others_have():
    kinds = set()
    for one in each("strip"):
        kinds.add(one.kind.key)
        old = {part.key for part in one.kind.old}
        named = {thing_name(one.kind, group): group for group in things(one.kind, usual_order(one.kind))}
        for n, name in enumerate(one.choices):
            group = named[name]
            whole = {k for k in old if set(one.kind.sewn_with(k)) & set(group)} | set(group)
            over = {b for a, b in one.kind.over if a in whole and b not in whole and b in old and b not in one.off}
            assert bool(over) is (n != one.right), (one.asks, name)
    assert kinds == set(KINDS) - {"bench_box"}  # that one's cover is sewn in one: there is nothing to choose


def test_pile_runs_down_what_stands_and_forward_on_what_lies():
    seen = set()
    for one in each("pile"):
        if one.panel:
            stands = one.kind.part(one.panel).stands
            assert one.choices[one.right] == ("from its top to its bottom" if stands else "from the back to the front")
            seen.add(stands)
        elif "velvet" in one.asks:
            assert one.choices[one.right].startswith(
                "only sideways" if "railroaded" in one.asks else "only with its top"
            )
        elif "vinyl" in one.asks:
            assert "four quarters" in one.choices[one.right]
        else:
            assert "either" in one.choices[one.right]
            assert ("sideways, with" in one.choices[one.right]) is ("railroaded" in one.asks)
    assert seen == {True, False}


def test_a_cut_stops_short_of_its_post_by_hand():
    sorts = set()
    for one in each("relief"):
        wide, away, stop = (float(found) for found in re.findall(r"(\d+) mm", one.asks))
        is_y = "stem of a Y" in one.asks
        stem = away - stop - (wide / 2 if is_y else 0)
        assert float(one.choices[one.right].removesuffix(" mm")) == pytest.approx(stem, abs=0.51)
        lengths = sorted(float(choice.removesuffix(" mm")) for choice in one.choices)
        assert all(b - a >= 6 for a, b in itertools.pairwise(lengths))  # they can be told apart
        sorts.add(is_y)
    assert sorts == {True, False}


def test_a_cover_grows_by_twice_what_its_pad_does_and_a_box_cushion_in_its_boxing():
    sorts = set()
    for one in each("pad"):
        if "drop-in" in one.asks:
            _, before, after = (float(found) for found in re.findall(r"(\d+) mm", one.asks))
            assert one.choices[one.right] == f"{2 * (after - before):.0f} mm"
        else:
            assert one.choices[one.right].startswith("boxing and zip strip")
            faces = [line for line in one.worked if line.startswith(("Cushion top", "Cushion bottom"))]
            assert [line.partition(": ")[2] for line in faces] == ["as it was."] * 2
        sorts.add("drop-in" in one.asks)
    assert sorts == {True, False}


@pytest.mark.parametrize(("topic", "number"), [("soup", 0), ("strip", -1), ("strip", 100_000)])
def test_a_question_that_there_is_not_is_refused(topic, number):
    with pytest.raises(BadInput):
        question(topic, number)
