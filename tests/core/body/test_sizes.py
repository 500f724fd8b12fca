"""Sizes of bodies: from finished shapes of any outline, from strips, from what one measures off the furniture."""

from __future__ import annotations

import io
import math

import numpy as np
import pytest
from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from zonatome.core.body.agree import apart, measures_to_take
from zonatome.core.body.build import body_of
from zonatome.core.body.cloth import Look, place_of, usual_piece
from zonatome.core.body.measures import MEASURES, Sizes, sides_of, usual_measures
from zonatome.core.body.picture import Dress, picture_of
from zonatome.core.body.surfaces import (
    coons,
    cornered,
    dome,
    dome_excess,
    measured,
    pad,
    path_length,
    round_plan,
    sided_plan,
    straight_plan,
)
from zonatome.core.body.trims import edge_curve, stretch_of
from zonatome.core.body.values import Patch
from zonatome.core.body.views import eye_for, view_named
from zonatome.core.formats.body_pdf import BodyPicture
from zonatome.core.lay.request import Repeat
from zonatome.core.outline import outline_of
from zonatome.core.rules import USUAL
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.restyle import centre_stripe
from zonatome.core.survey.splitting import split_part
from zonatome.core.trace.by_tape import disc_shape, trapezoid_shape
from zonatome.core.trace.shape import Edge, Shape
from zonatome.core.trace.usual import usual_shape


def arched_shape(width: float, height: float, rise: float) -> Shape:
    """A back whose top is an arch: straight sides, and so much higher in its middle."""
    over = [(width * (1 - k / 12), height + rise * math.sin(math.pi * k / 12)) for k in range(13)]
    outline = outline_of([(0, 0), (width, 0), *over])
    starts = (0, 1, 2, len(outline.points) - 1)
    sides = ("bottom", "right", "top", "left")
    edges = (Edge(name, start, "sewn", 13, side) for name, start, side in zip("abcd", starts, sides, strict=True))
    return Shape("Inside back", outline, tuple(edges))


def test_a_back_with_an_arched_top_has_it_on_the_furniture_and_its_seam_goes_over_it():
    kind = KINDS["side_chair"]
    arched = arched_shape(420, 500, 70)
    body = body_of(kind, {"inside_back": arched}, cells=12)
    inside, outside = body.by_key["inside_back"], body.by_key["outside_back"]
    top = inside.points[-1]
    middle, corner = top[len(top) // 2], top[0]
    assert middle[2] - corner[2] == pytest.approx(70 * math.cos(math.radians(9)), rel=0.06)
    assert np.allclose(top, outside.points[-1][::-1], atol=1.0)
    sides = sides_of(arched)
    for side in ("top", "left", "right"):
        along = path_length(edge_curve(inside, kind.part("inside_back"), side))
        assert along == pytest.approx(path_length(sides[side]), rel=0.03)
    assert not [a for a in apart(kind, body, {"inside_back": arched}) if a.key == "inside_back" and abs(a.share) > 0.08]


def test_where_the_motif_s_centre_lies_on_the_sample_s_reading_chair_by_hand():
    """Worked on paper, from what stands on the chair: a motif's centre is on the middle of each centred panel.

    Seat: 58 cm in front, 50 behind, sides of 56.1; depth = sqrt(561² - 40²) = 560. It is 450 high in the middle, where
    its pad of 70 is highest: (0, y, 450), y half a board's depth behind its front at 12, the board shallower than the
    cover's 560 by what goes down over its rounded edges, at most 70 at each end.
    Inside back: 584 high under a crest of 62, in a frame 900 high that leans by 13°: its board's middle is 900 - 62 -
    292 cos 13° = 553.5 high; the face stands 15 (half the frame) and 40 (the pad) before that, which leans too, so 55
    sin 13° = 12.4 higher: 565.9, in the middle.
    """
    kind = KINDS["show_wood"]
    seat = trapezoid_shape("Seat", 580, 500, 560, {}).held_as(kind.part("seat"), USUAL)
    back = arched_shape(420, 520, 64)
    body = body_of(kind, {"seat": seat, "inside_back": back}, cells=12)
    piece = usual_piece(Look((31, 111, 115), Repeat(320, 344, 0.5, (110, 184))))
    on_seat = place_of(body.by_key["seat"], piece, (110, 184))
    assert (on_seat[0], on_seat[2]) == (pytest.approx(0, abs=1), pytest.approx(450, abs=2))
    assert 12 + 560 / 2 - 70 < on_seat[1] < 12 + 560 / 2
    on_back = place_of(body.by_key["inside_back"], piece, (110, 184))
    assert (on_back[0], on_back[2]) == (pytest.approx(0, abs=1), pytest.approx(565.9, abs=3))


def test_a_shape_that_has_not_four_sides_is_taken_by_its_box_and_a_disc_by_its_width():
    stool = KINDS["square_stool"]
    shape = usual_shape(stool.part("seat"), USUAL)
    three = Shape(
        "Seat", shape.outline, (Edge("a", 0, "stapled_under", 50, "bottom"), Edge("b", 1, "stapled_under", 50, "right"))
    )
    assert sides_of(three) is None
    assert body_of(stool, {"seat": three}).by_key["seat"].across == pytest.approx(370, rel=0.01)
    disc = disc_shape("Top", 484, {}).held_as(KINDS["round_stool"].part("top"), USUAL)
    top = body_of(KINDS["round_stool"], {"top": disc}, cells=16).by_key["top"]
    assert (top.across, top.up) == (pytest.approx(484, rel=0.02), pytest.approx(484, rel=0.01))
    assert top.points[0, :, :2] == pytest.approx(np.repeat(top.points[0, :1, :2], top.points.shape[1], axis=0), abs=1)


def test_strips_share_the_place_of_the_panel_that_they_were():
    """Split up and across; what was measured of the strips sizes the whole."""
    split = split_part(
        KINDS["armchair"], "outside_back", into=[("Lower part", 0.25), ("Upper part", 0.75)], way="along", keeps=1
    )
    sizes = Sizes(split, {})
    run = sizes.runs["outside_back"]
    assert not run.is_across
    assert run.shares == pytest.approx((0.25, 0.75))
    assert sizes.of("outside_back").height == pytest.approx(560)
    body = body_of(split, cells=8)
    lower, upper = (body.by_key[key] for key in run.keys)
    assert lower.points[-1] == pytest.approx(upper.points[0])
    assert lower.up == pytest.approx(upper.up / 3, rel=0.05)
    striped = centre_stripe(KINDS["side_chair"], "seat", 100, 480).kind
    stripe = trapezoid_shape("Stripe", 160, 160, 640, {}).held_as(striped.part("seat"), USUAL)
    wider = body_of(striped, {"seat": stripe}, cells=8)
    assert wider.by_key["seat"].area > 1.4 * body_of(striped, cells=8).by_key["seat"].area
    seam = [m for m in striped.meets if m.of("seat") and m.join == "sewn" and m.one.startswith("seat")]
    assert seam


def test_a_pad_s_cover_is_as_large_over_it_as_the_finished_panel():
    for plan, across, up in (
        (straight_plan(400, 400, 300), 400, 300), (straight_plan(400, 340, 300), 370, 300), (round_plan(360), 360, 360),
    ):  # fmt: skip
        for crown in (1.0, 40.0, 90.0):
            grid = pad(plan, at=(5, 6, 7), right=(1, 0, 0), up=(0, 1, 0), crown=crown, cells=(16, 16))
            patch = Patch("x", grid, measured(grid))
            assert (patch.across, patch.up) == (pytest.approx(across, rel=0.02), pytest.approx(up, rel=0.02))
            assert grid[:, :, 2].max() == pytest.approx(7 + crown, abs=0.5)
            assert np.ptp(grid[:, :, 0]) <= 400.5
    flat = pad(straight_plan(400, 400, 300), at=(0, 0, 0), right=(1, 0, 0), up=(0, 1, 0), crown=60, cells=(16, 16))
    assert np.ptp(flat[:, :, 0]) < 400 - 30  # so the board is narrower than its cover


def test_small_parts_of_surfaces_by_hand():
    assert dome(np.array([0, 0.5, 1]), 2.0) == pytest.approx([0, 1, 0])
    assert dome_excess(200, 100, 2.0) == pytest.approx(math.pi * 100 - 200, rel=0.02)  # half a circle
    corner = cornered([(0, 0, 0), (100, 0, 0), (100, 50, 0)], 6)
    assert [tuple(p) for p in corner[[0, 4, -1]]] == [(0, 0, 0), (100, 0, 0), (100, 50, 0)]
    assert path_length(stretch_of(corner, 0.5, 1.0)) == pytest.approx(75)
    ends = np.linspace(0, 1, 5)
    sides = [np.array(side, float) for side in ([(0, 0), (4, 0)], [(4, 0), (4, 2)], [(0, 2), (4, 2)], [(0, 0), (0, 2)])]
    assert coons(*sides, ends, ends)[2, 2] == pytest.approx((2, 1))
    assert sided_plan(*sides)(ends, ends) == pytest.approx(coons(*sides, ends, ends))
    tilted = np.array([[(0, 0, 0), (3, 0, 4)], [(0, 2, 0), (3, 2, 4)]], float)  # a 3-4-5 slope, two deep
    assert measured(tilted)[:, :, 0] == pytest.approx(np.array([[-2.5, 2.5], [-2.5, 2.5]]), abs=2.6)
    assert Patch("x", tilted, measured(tilted)).area == pytest.approx(10)


@pytest.mark.parametrize("kind", KINDS)
def test_every_measure_does_something_and_is_named_where_a_panel_rests_on_it(kind):
    usual = body_of(KINDS[kind], cells=5)
    for key, value in usual_measures(KINDS[kind]).items():
        known = MEASURES[key]
        other = min(known.most, value * 1.3 + 2)
        changed = body_of(KINDS[kind], own={key: other}, cells=5)
        moved = [p.key for p in usual.patches if not np.allclose(p.points, changed.by_key[p.key].points, atol=0.5)]
        solids = any(
            not np.allclose(a.faces, b.faces, atol=0.5) for a, b in zip(usual.solids, changed.solids, strict=True)
        )
        assert moved or solids, key
    for patch in usual.patches:
        assert set(measures_to_take(patch.key, usual)) <= {MEASURES[key].name for key in usual.measures}


def test_an_eye_sees_what_is_nearer_larger_and_what_is_to_the_sitter_s_left_on_the_right():
    body = body_of(KINDS["armchair"], cells=4)
    eye = eye_for(body, view_named("front"))
    places, depth = eye.seen(np.array([[300.0, 0, 400], [-300.0, 0, 400], [300.0, 500, 400], [0, 0, 900]]))
    assert places[0][0] > 0 > places[1][0]
    assert places[3][1] > places[0][1]
    assert depth[2] > depth[0]
    assert places[0][0] > places[2][0]
    behind, _ = eye_for(body, view_named("back")).seen(np.array([[300.0, 500, 400]]))
    assert behind[0][0] < 0
    above = eye_for(body, view_named("above"))
    assert above.place[2] > eye.place[2]


def test_on_paper_it_keeps_its_proportions_and_stays_in_its_room():
    body = body_of(KINDS["hall"], cells=4)
    picture = picture_of(
        body, view_named("front_left"), Dress({p.key: usual_piece(Look((90, 60, 70))) for p in body.patches})
    )
    drawn = BodyPicture(picture, wide=300, high=120)
    x0, _, x1, _ = picture.bounds
    assert drawn.wrap(1, 1) == (pytest.approx((x1 - x0) * drawn.scale), pytest.approx(120))
    assert drawn.width <= 300
    page = io.BytesIO()
    canvas = Canvas(page)
    drawn.drawOn(canvas, 50, 60)
    canvas.save()
    told = PdfReader(io.BytesIO(page.getvalue())).pages[0].get_contents().get_data()
    assert told.count(b" rg") > 20
    assert told.count(b"\n") > len(picture.faces)
