"""What is drawn while a panel is put on and trimmed: every path lies on its paper, for every kind."""

from __future__ import annotations

import re

import pytest
from hypothesis import HealthCheck, given
from hypothesis import strategies as st

from tests.often import examples
from zonatome.core.fasten.folds import NAMES, Corner, fits, fold
from zonatome.core.fasten.pleats import pleats
from zonatome.core.fasten.relief import Post, curved_edges, relief_cut
from zonatome.core.outline import outline_of
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import disc_shape, rectangle_shape
from zonatome.core.trim.bottom import bottom_cloth
from zonatome.core.trim.nails import nails
from zonatome.web.fasten.drawing import (
    board_drawing,
    cuts_sketch,
    facing_sketch,
    fold_sketch,
    pleats_sketch,
    sewing_sketch,
)
from zonatome.web.fasten.services import closed_last, runs_of
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.trace.boards import plan_of, shape_or_usual
from zonatome.web.trim.drawing import bottom_drawing, nail_drawing, trim_drawing
from zonatome.web.trim.services import Bottom, lines_offered

NUMBER = re.compile(r"-?\d+(?:\.\d+)?")


def on_paper(view: str, *paths: str) -> bool:
    """Whether all points of these paths lie in a view box, a hair aside."""
    x, y, wide, high = map(float, view.split())
    for path in paths:
        told = [float(n) for n in NUMBER.findall(path)]
        assert len(told) >= 4
        assert len(told) % 2 == 0
        for at_x, at_y in zip(told[::2], told[1::2], strict=True):
            if not (x - 1 <= at_x <= x + wide + 1 and y - 1 <= at_y <= y + high + 1):
                return False
    return True


@given(st.sampled_from(sorted(NAMES)), st.floats(40, 160), st.sampled_from([0.0, 30.0]), st.floats(30, 150))
def test_every_step_of_every_fold_lies_on_its_paper(key, angle, radius, wrap):
    corner = Corner(angle, radius, wrap)
    if fits(key, corner):
        return
    for step in fold(key, corner).steps:
        drawn = fold_sketch(step)
        assert on_paper(drawn.view, *(path for kind, path in drawn.paths if kind != "arrow"))
        assert {"wood"} <= {kind for kind, _ in drawn.paths}


@given(st.floats(60, 500), st.floats(60, 480), st.floats(10, 70), st.sampled_from(["straight", "y"]))
def test_cuts_lie_on_the_panel_that_is_drawn(x, y, width, sort):
    seat = rectangle_shape("Seat", 560, 540, dict.fromkeys(("top", "left", "bottom", "right"), "raw_under_trim"))
    cut = relief_cut(seat, Post((x, y), width), sort=sort)
    drawn = cuts_sketch(seat, [((x, y), width, cut), ((9000, 9000), 40, None)][:1], ())
    assert on_paper(drawn.view, *(path for kind, path in drawn.paths if kind == "cut"))
    assert [kind for kind, _ in drawn.paths].count("cut") == len(cut.lines)
    assert [words for *_, words in drawn.words] == ["1"]
    disc = disc_shape("Top", 400, {"bottom": "sewn"})
    curved = curved_edges(disc)
    snips = [path for kind, path in cuts_sketch(disc, [], curved).paths if kind == "snip"]
    assert len(snips) == sum(len(curve.snips) for curve in curved)


@pytest.mark.parametrize("is_round", [True, False])
def test_pleats_are_drawn_as_many_as_there_are(is_round):
    made = pleats(1440, 1130)
    drawn = pleats_sketch(made, is_round=is_round)
    kinds = [kind for kind, _ in drawn.paths]
    assert kinds.count("crease") == kinds.count("hidden") == made.count
    assert on_paper(drawn.view, *(path for _, path in drawn.paths))


@pytest.mark.parametrize("kind", KINDS)
def test_staples_seams_and_exposed_lines_of_every_kind_are_drawn(workroom, kind):
    job = load_job(hang_tag(title="x", client="y", kind=kind).number)
    sewn = set()
    for row in job.panels():
        shape = shape_or_usual(row)
        try:
            plan = plan_of(row)
        except ValueError:  # nothing of it is stapled
            plan = None
        if plan is not None:
            drawn = board_drawing(row, shape.outline, plan, face_up=shape, corners=closed_last(shape))
            assert len(drawn.staples) == len(plan.staples)
            assert on_paper(drawn.view, drawn.cloth, drawn.board, *(s.path for s in drawn.staples))
            assert [s.number for s in drawn.staples] == list(range(1, len(plan.staples) + 1))
            assert all(s.words for s in drawn.staples)
        group = job.kind.sewn_with(row.key)
        if len(group) > 1 and group not in sewn:
            sewn.add(group)
            runs = runs_of(row)
            sketch = sewing_sketch(job, group, runs)
            assert on_paper(sketch.view, *(path for _, path in sketch.paths))
            shown = {kind_ for kind_, _ in sketch.paths if kind_ != "cloth"}
            assert shown == {f"run-{n}" for n in range(1, len(runs) + 1)}, "each run is seen on the cover"
    offered = lines_offered(job)
    drawing = trim_drawing(job, offered, {line.key for line in offered[:1]})
    assert (drawing is None) == (not offered)
    if drawing is not None:
        assert on_paper(drawing.view, *(path for path, *_ in drawing.lines), *drawing.panels)
        assert len(drawing.lines) == sum(len(line.edges) for line in offered)
        assert any(is_listed for _, is_listed, _ in drawing.lines)


@examples(40, suppress_health_check=[HealthCheck.too_slow])
@given(st.lists(st.floats(60, 900), min_size=1, max_size=5), st.floats(6, 18), st.booleans())
def test_nails_are_drawn_where_they_stand_and_numbered_as_they_are_set(lengths, head, is_closed):
    made = nails(lengths, head=head, spacing=head * 2, is_closed=is_closed)
    drawn = nail_drawing(made)
    assert len(drawn.nails) == made.count
    assert sorted(int(nail["number"]) for nail in drawn.nails) == list(range(1, made.count + 1))
    assert sum(nail["kind"] == "corner" for nail in drawn.nails) == len(made.corners)
    assert on_paper(drawn.view, drawn.line)


@given(st.floats(100, 2000), st.floats(100, 2000), st.booleans(), st.integers(0, 6))
def test_a_bottom_cloth_is_drawn_with_its_legs_inside_it(wide, deep, is_round, feet):
    drawn = bottom_drawing(Bottom(bottom_cloth(wide, wide if is_round else deep, is_round=is_round), (), None), feet)
    assert on_paper(drawn.view, drawn.cut, drawn.finished, *drawn.cuts)
    assert len(drawn.legs) == len(drawn.cuts) == feet


@given(st.floats(60, 300), st.floats(100, 500))
def test_two_facings_are_each_other_s_mirror_image(wide, high):
    board = outline_of([(0, 0), (wide, 0), (wide * 0.8, high), (wide * 0.1, high * 0.9)])
    drawn = facing_sketch(board)
    one, other = (
        [float(n) for n in NUMBER.findall(path)] for kind, path in drawn.paths if kind == "board"
    )  # fmt: skip
    assert one[1::2] == pytest.approx(other[1::2], abs=0.1)
    sums = [a + b for a, b in zip(one[::2], other[::2], strict=True)]
    assert sums == pytest.approx([sums[0]] * len(sums), abs=0.2)
    assert on_paper(drawn.view, *(path for _, path in drawn.paths))
