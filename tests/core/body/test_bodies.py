"""Bodies of every kind in every make: that they stand as the tables of the trade say, whole and right way round."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.makes import EVERY_MAKE, MAKES
from tests.often import examples
from zonatome.core.body.build import body_of
from zonatome.core.body.measures import MEASURES, usual_measures, with_own
from zonatome.core.body.trims import edge_curve
from zonatome.core.body.values import Body, Patch
from zonatome.core.body.views import VIEWS, best_view, in_sight, view_named
from zonatome.core.errors import BadInput
from zonatome.core.rules import USUAL
from zonatome.core.survey.furniture import add_part, drop_part
from zonatome.core.survey.kind import ButtonGrid, Channels, Kind
from zonatome.core.survey.kinds import KINDS
from zonatome.core.survey.restyle import buttoned, centre_stripe, channelled_panel, thicker_arms
from zonatome.core.trace.usual import usual_shape

ONE_CURVE = 5.0  # mm
FRONT, BACK, LEFT, UP = (np.array(way, float) for way in ((0, -1, 0), (0, 1, 0), (1, 0, 0), (0, 0, 1)))
# which way a panel's face looks, by how its key begins; the longest that fits; of pairs the sitter's left
FACES = {
    "seat": UP,
    "seat_deck": UP,
    "arm_pad": UP,
    "top": UP,
    "cover": UP,
    "cushion_top": UP,
    "bottom_cloth": -UP,
    "bottom": -UP,
    "cushion_bottom": -UP,
    "inside_back": FRONT,
    "outside_back": BACK,
    "front": FRONT,
    "back": BACK,
    "front_band": FRONT,
    "facing": FRONT,
    "arm_front": FRONT,
    "inside_arm": -LEFT,
    "outside_arm": LEFT,
    "inside_wing": -LEFT,
    "outside_wing": LEFT,
    "side": LEFT,
    "band": LEFT,
    "end": LEFT,
    "boxing": FRONT,
    "boxing_front": FRONT,
    "boxing_end": LEFT,
    "cushion_boxing": FRONT,
    "zip_strip": BACK,
    "cushion_zip": BACK,
    "skirt_front": FRONT,
    "skirt_back": BACK,
    "skirt_end": LEFT,
    "inner": FRONT + UP,
    "outer": BACK - UP,
}


def ways_at_the_middle(patch: Patch) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """To its right and up a little below the middle of a patch, and out of its face over all of it."""
    rows, columns = patch.points.shape[:2]
    low, high = patch.flat[:, columns // 2, 1].min(), patch.flat[:, columns // 2, 1].max()
    i = int(np.clip(np.argmin(np.abs(patch.flat[:, columns // 2, 1] - low - 0.35 * (high - low))), 1, rows - 2))
    j = columns // 2
    right, up = patch.points[i, j + 1] - patch.points[i, j - 1], patch.points[i + 1, j] - patch.points[i - 1, j]
    cells = patch.cells
    out = np.cross(cells[:, 2] - cells[:, 0], cells[:, 3] - cells[:, 1]).sum(axis=0)
    return tuple(way / np.linalg.norm(way) for way in (right, up, out))


def faced(key: str, kind: Kind) -> np.ndarray:
    """Which way the face of a panel must look."""
    if kind.key == "desk_chair" and key == "back":
        return FRONT
    plain = key.removesuffix("_left").removesuffix("_right")
    way = FACES[max((name for name in FACES if plain.startswith(name)), key=len)]
    return way * np.array([-1, 1, 1]) if key.endswith("_right") else way


@EVERY_MAKE
def test_every_panel_stands_or_lies_as_the_table_says_with_its_face_out(kind):
    body = body_of(kind, cells=6)
    assert set(body.by_key) == {p.key for p in kind.parts if p.is_cut}
    for key, patch in body.by_key.items():
        right, up, out = ways_at_the_middle(patch)
        assert np.isfinite(patch.points).all(), key
        assert patch.points[:, :, 2].min() > -1.0, key  # above the floor
        assert out @ faced(key, kind) > 0.5, key
        if kind.part(key).stands:
            rise = patch.points[-1, patch.points.shape[1] // 2] - patch.points[0, patch.points.shape[1] // 2]
            assert rise[2] > 0.2 * np.linalg.norm(rise) > 0, key
        else:
            assert up[1] > 0.8, key  # toward the back
        if abs(faced(key, kind)[0]) < 0.5:  # what looks forward or up has the sitter's left on its right
            toward_left = (faced(key, kind) @ (FRONT + UP)) > 0
            assert bool(right[0] > 0.9) == bool(toward_left), key
        else:  # the side toward the front: on the right of what looks inward, on the left of what looks outward
            hand = 1 if key.endswith("_left") else -1  # the right is the mirror image
            inward = faced(key, kind)[0] * hand < 0
            assert bool(right[1] * hand < 0) == bool(inward), key


@EVERY_MAKE
def test_no_patch_turns_inside_out_and_a_pair_is_mirrored(kind):
    body = body_of(kind, cells=6)
    for key, patch in body.by_key.items():
        rows, columns = patch.points.shape[0] - 1, patch.points.shape[1] - 1
        out = patch.normals.reshape(rows, columns, 3)
        is_area = np.linalg.norm(out, axis=2) > 0.5
        for one, other, both in (
            (out[:-1], out[1:], is_area[:-1] & is_area[1:]),
            (out[:, :-1], out[:, 1:], is_area[:, :-1] & is_area[:, 1:]),
        ):
            turns = np.einsum("ijk,ijk->ij", one, other)[both]
            assert turns.min(initial=1.0) > -0.35, key  # a fold is a sharp edge; past that it would be the wrong side
        across, up = np.diff(patch.flat[:, :, 0], axis=1), np.diff(patch.flat[:, :, 1], axis=0)
        assert min(across.min(), up.min()) > -1e-6, key
        mirror = kind.part(key).mirror
        if mirror in body.by_key:
            assert np.allclose(body.by_key[mirror].points[:, ::-1] * (-1, 1, 1), patch.points), key


def strays(body: Body, kind: Kind, key: str, edge: str) -> float:
    """How far an edge that is sewn strays from the edges that it is sewn to, where all of it is sewn."""
    own = edge_curve(body.by_key[key], kind.part(key), edge)
    partners = [m.beyond(key, edge) for m in kind.meetings_at(key, edge)]
    curves = [edge_curve(body.by_key[k], kind.part(k), e) for k, e in partners]
    steps = [a[None] + (b - a)[None] * np.linspace(0, 1, 60)[:, None] for c in curves for a, b in itertools.pairwise(c)]
    return float(np.linalg.norm(own[:, None] - np.concatenate(steps)[None], axis=2).min(axis=1).max())


@EVERY_MAKE
def test_both_edges_of_a_seam_are_one_curve(kind):
    body = body_of(kind, cells=8)
    sewn = {end for m in kind.meets if m.is_seam for end in m.ends}
    apart = {f"{key}.{edge}": round(strays(body, kind, key, edge), 1) for key, edge in sewn}
    assert not {name: off for name, off in apart.items() if off > ONE_CURVE}


@pytest.mark.parametrize("kind", [made for made in MAKES if made.id.count("+") < 2])
def test_every_panel_is_seen_from_one_of_the_eight_views(kind):
    body = body_of(kind, cells=4)
    hidden = [key for key in body.by_key if not any(in_sight(body, key, view) > 0.01 for view in VIEWS)]
    assert not hidden


def test_the_view_that_shows_a_panel_best_faces_it():
    body = body_of(KINDS["wing"], cells=4)
    assert best_view(body, "outside_wing_left").key == "left"
    assert best_view(body, "outside_wing_right").key == "right"
    assert best_view(body, "outside_back").key == "back"
    assert best_view(body, "seat").is_loosened  # under its cushion
    assert best_view(body, "bottom_cloth").key == "below"
    with pytest.raises(BadInput):
        best_view(body, "sail")
    with pytest.raises(BadInput):
        view_named("from the moon")


@EVERY_MAKE
def test_usual_measures_make_a_body_that_agrees_with_the_usual_shapes(kind):
    """Within 12 % of the area each, save what folds away: the table's own measures do not close round all kinds."""
    body = body_of(kind, cells=8)
    for part in kind.parts:
        if not part.is_cut or part.key in ("cover", "seat_deck"):
            continue
        usual = usual_shape(part, USUAL).outline.area
        assert body.by_key[part.key].area == pytest.approx(usual, rel=0.12), part.key


def test_one_s_own_changes_change_the_body():
    wing = KINDS["wing"]
    whole = body_of(wing, cells=5)
    dropped = drop_part(wing, "outside_wing_left")
    assert "outside_wing_left" not in body_of(dropped, cells=5).by_key
    assert any(
        s.key == "outside_wing_left frame" for s in body_of(dropped, cells=5).solids
    )  # its frame is seen instead
    thick = body_of(thicker_arms(wing, 40).kind, cells=5)
    assert (
        np.ptp(thick.by_key["inside_arm_left"].points[:, :, 0])
        > np.ptp(whole.by_key["inside_arm_left"].points[:, :, 0]) + 30
    )
    striped = body_of(centre_stripe(wing, "inside_back", 120, 500).kind, cells=5)
    strips = [p for p in striped.patches if p.key.startswith("inside_back")]
    assert len(strips) == 3
    assert striped.by_key["inside_back"].across == pytest.approx(120, abs=8)
    assert sum(p.area for p in strips) == pytest.approx(whole.by_key["inside_back"].area, rel=0.01)
    for a, b in (("left", "right"),):  # the strips lie side by side, the left one at the face's left
        by_x = {p.key: p.points[:, :, 0].mean() for p in strips}
        left, right = (next(k for k in by_x if f"_{side}_strip" in k) for side in (a, b))
        assert by_x[left] < by_x["inside_back"] < by_x[right]


def test_a_band_that_is_added_hangs_under_the_edge_it_was_added_to():
    stool = add_part(KINDS["square_stool"], "Valance", width=370, height=90, on="seat", side="bottom")
    body = body_of(stool, cells=5)
    patch, seat = body.by_key["valance"], body.by_key["seat"]
    _, up, out = ways_at_the_middle(patch)
    assert up[2] > 0.9
    assert out @ FRONT > 0.9
    assert patch.points[-1, :, 2] == pytest.approx(seat.points[0, :, 2], abs=2.0)
    assert np.ptp(patch.points[:, 0, 2]) == pytest.approx(90, abs=6)
    sided = body_of(
        add_part(KINDS["armchair"], "Skirt at the side", width=480, height=100, on="outside_arm_left", side="bottom"),
        cells=5,
    )
    assert (
        sided.by_key["skirt_at_the_side"].points[:, :, 2].max()
        <= sided.by_key["outside_arm_left"].points[:, :, 2].min() + 3
    )


def test_buttons_are_drawn_in_as_deep_as_they_are_and_channels_too():
    made = buttoned(KINDS["armchair"], "inside_back", ButtonGrid(2, 3, 130, 150, 22)).kind
    plain, worked = body_of(KINDS["armchair"]).by_key["inside_back"], body_of(made)
    patch = worked.by_key["inside_back"]
    for x, y in ButtonGrid(2, 3, 130, 150, 22).places(130, 150):
        deep = np.linalg.norm(plain.at(x, y)[0] - patch.at(x, y)[0])
        assert 12 < deep <= 23
    assert [line.sort for line in worked.lines if line.panel == "inside_back"].count("buttons") == 6
    channels = channelled_panel(KINDS["armchair"], "inside_back", Channels(80, 14)).kind
    hollowed = body_of(channels).by_key["inside_back"]
    assert np.linalg.norm(plain.at(0, 0)[0] - hollowed.at(0, 0)[0]) > 8  # a line runs down the middle


@examples(60)
@given(data=st.data())
def test_measures_within_their_bounds_make_a_body_and_others_are_refused(data):
    kind = data.draw(st.sampled_from(list(KINDS.values())))
    usual = usual_measures(kind)
    own = {
        key: data.draw(
            st.floats(max(MEASURES[key].least, 0.6 * value), min(MEASURES[key].most, 1.5 * value)), label=key
        )
        for key, value in usual.items()
    }
    body = body_of(kind, own=own, cells=4)
    assert all(np.isfinite(p.points).all() and p.area > 100 for p in body.patches)
    assert all(np.isfinite(s.faces).all() for s in body.solids)
    if "seat_height" in own:  # what is measured from the floor stands there
        top = {"seat", "top", "cover"} & set(body.by_key)
        if kind.key not in ("side_chair", "bench_box") and top:
            assert body.by_key[top.pop()].points[:, :, 2].max() == pytest.approx(own["seat_height"], abs=6)
    key = data.draw(st.sampled_from(sorted(usual)))
    for odd in (MEASURES[key].most * 2 + 1, MEASURES[key].least - 1, float("nan"), float("inf")):
        with pytest.raises(BadInput):
            with_own(kind, {key: odd})
    with pytest.raises(BadInput):
        with_own(kind, {"sail": 10})
