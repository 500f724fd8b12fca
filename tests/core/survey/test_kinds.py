"""Kinds as data: what the tables promise, and the drawing that is computed from them."""

from itertools import combinations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import Polygon

from zonatome.core.errors import BadInput
from zonatome.core.survey.findings import FINDINGS, LAYERS, VERDICTS, findings_of, proposed_verdict
from zonatome.core.survey.kinds import KINDS, kind_named
from zonatome.core.survey.opened_out import opened_out
from zonatome.core.trace.joins import JOINS, join_named

EVERY_KIND = pytest.mark.parametrize("kind", KINDS.values(), ids=KINDS)
ASKED_FOR = ["drop_in", "side_chair", "show_wood", "wing", "round_stool", "square_stool", "ottoman", "bench_box", "desk_chair"]


def test_the_kinds_asked_for_are_there():
    assert set(ASKED_FOR) <= set(KINDS)


@EVERY_KIND
def test_a_kind_names_only_what_it_has(kind):
    keys = {p.key for p in kind.parts}
    assert len(keys) == len(kind.parts)
    for part in kind.parts:
        assert part.on is None or part.on in keys
        assert set(part.joins.values()) <= set(JOINS)
        assert part.held, f"{part.name} is held by nothing"
        if part.is_cut:
            assert part.width > 0
            assert part.height > 0
    for under, over in kind.over:
        assert {under, over} <= keys
    assert any(p.padded for p in kind.panels)


@EVERY_KIND
def test_left_and_right_are_a_pair_of_the_same_measures(kind):
    for part in kind.parts:
        if part.mirror:
            partner = kind.part(part.mirror)
            assert partner.mirror == part.key
            assert (partner.width, partner.height, partner.joins) == (part.width, part.height, part.joins)


@EVERY_KIND
def test_every_panel_is_drawn_once_and_none_covers_another(kind):
    drawing = opened_out(kind)
    assert sorted(d.key for d in drawing.parts) == sorted(p.key for p in kind.parts if p.is_cut)
    for one, other in combinations(drawing.parts, 2):
        shared = Polygon(one.points).intersection(Polygon(other.points)).area
        assert shared < 1.0, f"{one.key} and {other.key} share {shared:.0f} mm2"


@EVERY_KIND
def test_neighbours_touch_along_their_join(kind):
    drawn = {d.key: Polygon(d.points) for d in opened_out(kind).parts}
    for part in kind.parts:
        if part.on and part.what == "panel" and part.held != ("loose",):
            shared = drawn[part.key].buffer(0.01).intersection(drawn[part.on].exterior).length
            assert shared > 20, f"{part.key} hangs off {part.on}"


@EVERY_KIND
def test_left_lies_left_and_right_lies_right_as_one_sits(kind):
    middles = {d.key: d.middle[0] for d in opened_out(kind).parts}
    for key, x in middles.items():
        if key.endswith("_left"):
            assert x < middles[key.replace("_left", "_right")]


@EVERY_KIND
@given(data=st.data())
def test_the_drawing_holds_for_other_measures_too(kind, data):
    sizes = {p.key: (data.draw(st.floats(80, 1500)), data.draw(st.floats(80, 1500))) for p in kind.parts if p.is_cut}
    drawing = opened_out(kind, sizes)
    x0, y0, x1, y1 = drawing.bounds
    for drawn in drawing.parts:
        assert Polygon(drawn.points).is_valid
        assert all(x0 - 0.01 <= x <= x1 + 0.01 and y0 - 0.01 <= y <= y1 + 0.01 for x, y in drawn.points)


def test_a_changed_measure_redraws_only_by_that_much():
    kind = kind_named("square_stool")
    drawn = next(d for d in opened_out(kind, {"seat": (500, 300)}).parts if d.key == "seat")
    assert (drawn.width, drawn.height) == (500, 300)


def test_a_kind_part_join_or_finding_that_there_is_not_is_refused_with_those_there_are():
    for call in (lambda: kind_named("throne"), lambda: kind_named("wing").part("antler"), lambda: join_named("magnet"),
                 lambda: proposed_verdict("haunted"), lambda: findings_of("roof")):  # fmt: skip
        with pytest.raises(BadInput, match="one of"):
            call()


@pytest.mark.parametrize("layer", LAYERS)
def test_each_layer_has_a_sound_finding_first_and_a_verdict_with_a_reason_for_each(layer):
    found = findings_of(layer)
    assert found[0].verdict in ("keep", "cover_over")
    for finding in found:
        assert finding.verdict in VERDICTS
        assert len(finding.reason) > 10
    assert {f.key for f in found} <= set(FINDINGS)


@pytest.mark.parametrize(
    ("key", "verdict"),
    [
        pytest.param("support_slack", "renew", id="a sagging seat needs webbing, not more foam"),
        pytest.param("filling_flat", "renew", id="a fifth of its height lost"),
        pytest.param("cover_sound", "cover_over", id="sound, clean, woven: may be covered over"),
        pytest.param("cover_slick", "renew", id="vinyl and hide are not covered over"),
        pytest.param("frame_loose", "strengthen", id="an open joint is reglued first"),
    ],
)
def test_the_rules_propose_the_trade_s_verdict(key, verdict):
    assert proposed_verdict(key).verdict == verdict
