"""The cloth on a body: true to size and place, as the lay has it; what is drawn and given away of it."""

from __future__ import annotations

import io
import json
import re
import struct

import numpy as np
import pytest
import trimesh
from PIL import Image, ImageDraw

from tests.core.makes import EVERY_KIND
from zonatome.core.body.agree import apart, middle_of
from zonatome.core.body.build import body_of, few_cells
from zonatome.core.body.cloth import Look, Piece, colour_of, figure_on, pile_shade, pile_ways, place_of, usual_piece
from zonatome.core.body.picture import Dress, bare_colours, picture_of
from zonatome.core.body.views import VIEWS, eye_for, squarely_seen, view_named
from zonatome.core.errors import BadInput
from zonatome.core.formats.body_glb import BARE, ClothPhoto, body_glb, photo_colours, tile_picture
from zonatome.core.formats.body_svg import body_svg
from zonatome.core.lay.request import Placement, Repeat
from zonatome.core.lay.table.on_a_panel import moved_by, on_the_panel
from zonatome.core.rules import USUAL
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import trapezoid_shape
from zonatome.core.trace.usual import usual_shape

HALF_DROP = Repeat(320, 344, 0.5, (110, 184))
STRIPE = Repeat(None, 96, 0.0, (0, 74))
LOOKS = {
    "plain": Look((140, 74, 90)), "stripe": Look((214, 200, 170), STRIPE), "motif": Look((31, 111, 115), HALF_DROP),
    "pile": Look((124, 49, 69), has_pile=True),
}  # fmt: skip
SQUARE = 60.0  # mm
SIX = (
    ("wing", "inside_back"), ("wing", "outside_arm_left"), ("wing", "cushion_top"), ("side_chair", "seat"),
    ("ottoman", "front"), ("desk_chair", "back"),
)  # fmt: skip


def dressed(body, look):
    return Dress({patch.key: usual_piece(look) for patch in body.patches})


@pytest.mark.parametrize(("kind", "key"), SIX)
@pytest.mark.parametrize(
    ("turn", "repeat"), [(0.0, HALF_DROP), (180.0, HALF_DROP), (0.0, STRIPE), (90.0, Repeat(100, 100, 0.0, (0, 0)))]
)
def test_a_square_of_the_roll_lands_on_the_furniture_at_its_true_size_and_place(kind, key, turn, repeat):
    """A panel is laid somewhere on the roll, turned; what lies there on the roll is found on the furniture."""
    part = KINDS[kind].part(key)
    shape, body = usual_shape(part, USUAL), body_of(KINDS[kind], cells=12)
    patch = body.by_key[key]
    placed = Placement(key, 1, 1234.0, 567.0, turn)
    piece = Piece(Look((0, 0, 0), repeat), on_the_panel(shape, placed))
    middle = piece.on_roll(np.zeros(2))  # where the finished panel's middle lies on the roll
    there = [
        place_of(patch, piece, (middle[0] + x, middle[1] + y))
        for x, y in ((0, 0), (SQUARE, 0), (SQUARE, SQUARE), (0, SQUARE))
    ]
    sides = [np.linalg.norm(b - a) for a, b in zip(there, [*there[1:], there[0]], strict=True)]
    assert sides == pytest.approx([SQUARE] * 4, rel=0.04)
    assert np.linalg.norm(there[2] - there[0]) == pytest.approx(SQUARE * 2**0.5, rel=0.04)
    # the place: the middle of the panel is the middle of its patch
    rows, columns = patch.points.shape[:2]
    row, column = np.unravel_index(np.argmin(np.hypot(*np.moveaxis(patch.flat, 2, 0))), (rows, columns))
    off = np.hypot(*patch.flat[row, column])  # the nearest place of the grid is so far from the middle
    assert np.linalg.norm(there[0] - patch.points[row, column]) == pytest.approx(off, abs=3)
    # down the roll is down the panel where it is laid up it, and up where it is turned half round
    down = (there[1] - there[0]) @ (
        patch.points[rows // 2 + 1, columns // 2] - patch.points[rows // 2 - 1, columns // 2]
    )
    assert np.sign(round(float(down))) == {0.0: -1, 180.0: 1, 90.0: 0}[turn] or turn == 90.0


def test_where_a_motif_s_centre_lies_by_hand():
    """A wing chair, worked on paper. Legs 170, band 190: its edge at 360. The platform lies 34 below it, the cushion on
    that at 8: 334 in front; it falls 38 over its depth of 540, so 19 to its middle; 110 of boxing and a crown of 26
    over it: 334 - 19 + 110 + 26 = 451, in the middle, x = 0.
    """
    body = body_of(KINDS["wing"], cells=12)
    piece = usual_piece(LOOKS["motif"])
    assert moved_by(piece.onto, HALF_DROP.origin) == (0.0, 0.0)
    cushion = place_of(body.by_key["cushion_top"], piece, HALF_DROP.origin)
    assert (cushion[0], cushion[2]) == (pytest.approx(0, abs=0.5), pytest.approx(451, abs=4))
    # the next motif of the half-dropped column stands 344 to the face's right, 160 below or above
    beside = place_of(body.by_key["inside_back"], piece, (HALF_DROP.origin[0] + 160, HALF_DROP.origin[1] + 172))
    first = place_of(body.by_key["inside_back"], piece, HALF_DROP.origin)
    assert beside[0] - first[0] == pytest.approx(172, rel=0.05)
    assert first[2] - beside[2] == pytest.approx(160 * np.cos(np.radians(11)), rel=0.08)


def test_pile_that_is_turned_the_wrong_way_is_seen_at_once():
    body = body_of(KINDS["wing"], cells=5)
    look, view = LOOKS["pile"], view_named("front_right")
    right = usual_piece(look)
    wrong = Piece(look, tuple(-v for v in right.onto))
    patch = body.by_key["inside_back"]
    assert pile_ways(patch, right)[:, 2].mean() < -0.8  # it runs down
    up_is_right, up_is_wrong = (pile_shade(pile_ways(patch, p), view.toward).mean() for p in (right, wrong))
    assert up_is_right - up_is_wrong > 0.12
    pieces = {p.key: right for p in body.patches}
    shades = []
    for piece in (right, wrong):
        picture = picture_of(body, view, Dress({**pieces, "inside_back": piece}))
        shades.append(np.mean([f.colour for f in picture.faces if f.key == "inside_back" and not f.stroke], axis=0))
    assert (shades[0] - shades[1]).sum() > 24


@EVERY_KIND
def test_a_thumbnail_is_small_and_true_and_hides_what_lies_behind(kind):
    body = body_of(kind, cells=few_cells(kind))
    for look in LOOKS.values():
        dress = Dress({p.key: usual_piece(look) for p in body.patches}, is_small=True)
        svg = body_svg(picture_of(body, view_named("front_right"), dress), size=480, title="<&>")
        assert len(svg) <= 40_000
        assert "&lt;&amp;&gt;" in svg
        assert "nan" not in svg
        assert re.match(r'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 \d+ \d+"', svg)
    whole = picture_of(body, view_named("back"), dressed(body, LOOKS["motif"]))
    assert len({face.key for face in whole.faces}) > 1
    for view in VIEWS:
        assert len(picture_of(body, view, dressed(body, LOOKS["plain"])).faces) > 30


def painted(picture) -> tuple[np.ndarray, dict[str, int], tuple[float, float]]:
    """Which panel is seen at every pixel of a picture, 2 mm wide each, when its faces are painted one over another."""
    x0, y0, x1, y1 = picture.bounds
    numbers = {key: n for n, key in enumerate(dict.fromkeys(face.key for face in picture.faces), start=1)}
    canvas = Image.new("I", (int((x1 - x0) / 2) + 2, int((y1 - y0) / 2) + 2))
    draw = ImageDraw.Draw(canvas)
    for face in picture.faces:
        if not face.stroke:
            draw.polygon([((x - x0) / 2, (y1 - y) / 2) for x, y in face.points.tolist()], fill=numbers[face.key])
    return np.asarray(canvas), numbers, (x0, y1)


@EVERY_KIND
@pytest.mark.parametrize("key", ["front_right", "back", "left"])
def test_what_rays_see_is_what_is_painted(kind, key):
    """Faces are painted from far to near; that rests on their middles. Rays from each cell to the eye say the truth."""
    body, view = body_of(kind, cells=8), view_named(key)
    eye = eye_for(body, view)
    seen, numbers, (x0, y1) = painted(picture_of(body, view, Dress()))
    right = wrong = 0
    for patch in body.patches:
        is_seen = squarely_seen(body, patch.key, eye) > 0.2
        places, _ = eye.seen(patch.cells.mean(axis=1)[is_seen])
        for x, y in places:
            at = seen[int((y1 - y) / 2), int((x - x0) / 2)]
            right, wrong = right + (at == numbers.get(patch.key)), wrong + (at != numbers.get(patch.key))
    assert right > 10
    assert wrong / (right + wrong) < 0.08


def test_webbing_is_straps_over_and_under_and_foam_is_foam():
    body = body_of(KINDS["armchair"], cells=8)
    seat = body.by_key["seat"]
    straps = bare_colours(seat, "webbing").reshape(seat.points.shape[0] - 1, -1, 3)
    assert straps[1, 1].sum() < straps[0, 1].sum() < straps[0, 0].sum()
    assert np.ptp(bare_colours(seat, "foam"), axis=0).max() == 0
    off = Dress(off=frozenset({"seat", "cushion_top"}), under={"seat": "webbing"})
    data = body_glb(body, off)
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    bare = scene.geometry[f"{BARE}seat"]
    assert len(bare.vertices) > len(scene.geometry["seat"].vertices)  # each strap's cell has its own colour
    shown = picture_of(body, view_named("above"), off)
    shades = {face.colour for face in shown.faces if face.key == "seat" and not face.stroke}
    assert max(sum(c) for c in shades) > 1.5 * min(sum(c) for c in shades)


def test_what_is_off_is_bare_what_is_next_is_yellow_and_trims_go_with_their_panel():
    body = body_of(KINDS["wing"], cells=5)
    worn = dressed(body, LOOKS["plain"])
    dress = Dress(
        worn.pieces,
        frozenset({"outside_back", "arm_front_left"}),
        {"arm_front_left": "wadding"},
        {"outside_wing_left": "next"},
    )
    behind, front = (picture_of(body, view_named(key), dress) for key in ("back", "front_left"))
    colours = {
        key: [f.colour for f in behind.faces if f.key == key and not f.stroke]
        for key in ("outside_back", "outside_arm_left")
    }
    red, green, blue = np.mean(colours["outside_back"], axis=0)
    assert red > green > blue
    assert green > 90
    assert np.mean(colours["outside_arm_left"], axis=0)[1] < 80
    yellow = np.mean([f.colour for f in behind.faces if f.key == "outside_wing_left" and not f.stroke], axis=0)
    assert yellow[0] > 120
    assert yellow[2] < 0.5 * yellow[0]
    wadding = np.mean([f.colour for f in front.faces if f.key == "arm_front_left" and not f.stroke], axis=0)
    assert wadding.min() > 140
    assert not [f for f in front.faces if f.key == "arm_front_left" and f.stroke > 5]  # its welt is off with it
    assert [
        f for f in picture_of(body, view_named("front_left"), worn).faces if f.key == "arm_front_left" and f.stroke > 5
    ]


def glb_document(data: bytes) -> dict:
    magic, version, length = struct.unpack("<4sII", data[:12])
    assert (magic, version, length) == (b"glTF", 2, len(data))
    size = struct.unpack("<I", data[12:16])[0]
    return json.loads(data[20 : 20 + size])


def test_the_file_to_give_away_is_read_by_others_in_metres_with_its_cloth():
    body = body_of(KINDS["armchair"], cells=6)
    dress = dressed(body, LOOKS["motif"])
    data = body_glb(body, Dress(dress.pieces, frozenset({"outside_back"})))
    told = glb_document(data)
    nodes = {n["name"]: n.get("extras", {}) for n in told["nodes"] if "mesh" in n}
    for patch in body.patches:
        assert nodes[patch.key]["panel"] == patch.key
        assert nodes[BARE + patch.key]["off"] is (patch.key == "outside_back")
        assert nodes[patch.key]["loose"] is patch.key.startswith("cushion")
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    low, high = body.bounds
    size = (high - low) / 1000  # x across, y up, z toward who stands before it
    assert (scene.bounds[1] - scene.bounds[0]) == pytest.approx((size[0], size[2], size[1]), abs=0.03)
    # the texture's places are the roll's: a vertex's share of the tile is where it lies on the cloth
    mesh, patch, piece = scene.geometry["front_band"], body.by_key["front_band"], dress.pieces["front_band"]
    tile = piece.look.tile
    on_roll = piece.on_roll(patch.flat.reshape(-1, 2))
    places = np.asarray(mesh.vertices) * 1000
    for place, (across, upward) in zip(places, np.asarray(mesh.visual.uv), strict=True):
        nearest = np.argmin(np.linalg.norm(patch.points.reshape(-1, 3) - (place[0], -place[2], place[1]), axis=1))
        assert across == pytest.approx((on_roll[nearest, 1] - tile.y) / tile.height, abs=0.01)
        assert 1 - upward == pytest.approx((on_roll[nearest, 0] - tile.x) / tile.width, abs=0.01)


def test_a_cloth_s_own_photo_lies_on_it_as_its_repeat_has_it():
    photo = Image.new("RGB", (80, 100), (30, 60, 200))
    photo.paste((220, 30, 30), (0, 0, 80, 50))  # its upper half is red
    file = io.BytesIO()
    photo.save(file, "PNG")
    colours = photo_colours(file.getvalue())
    assert colours[0][0][0] > 200
    assert colours[-1][0][2] > 180
    look = Look((100, 100, 100), Repeat(320, 344, 0.5, (0, 0)), photo=colours)
    tile = tile_picture(look, ClothPhoto(file.getvalue()))
    wide, high = tile.size
    at = {(x, y): tile.getpixel((int(x * wide), int(y * high))) for x in (0.25, 0.75) for y in (0.2, 0.8)}
    assert at[0.25, 0.2][0] > 200 > at[0.25, 0.8][0]
    assert at[0.75, 0.2][2] > 180 > at[0.75, 0.8][2]
    body = body_of(KINDS["square_stool"], cells=16)
    picture = picture_of(body, view_named("front"), Dress({"seat": usual_piece(look)}))
    seen = {f.colour[0] > f.colour[2] for f in picture.faces if f.key == "seat" and not f.stroke}
    assert seen == {True, False}


def test_where_shapes_and_furniture_differ_the_measure_to_take_is_said():
    kind = KINDS["wing"]
    usual = {p.key: usual_shape(p, USUAL) for p in kind.panels}
    grown = {
        **usual,
        "outside_wing_left": trapezoid_shape("Outside wing", 260, 260, 400, {}).held_as(
            kind.part("outside_wing_left"), USUAL
        ),
    }
    found = {a.key: a for a in apart(kind, body_of(kind, grown), grown)}
    assert found["outside_wing_left"].is_area
    assert found["outside_wing_left"].share < -0.1
    assert found["outside_wing_left"].take == ("Thickness of the back", "Lean of the wings")
    stool = KINDS["square_stool"]
    wide = {"seat": trapezoid_shape("Seat", 520, 470, 410, {}).held_as(stool.part("seat"), USUAL)}
    body = body_of(stool, wide)
    assert body.by_key["seat"].across == pytest.approx(495, rel=0.01)  # the shape sizes it
    assert middle_of(wide["seat"]) == (pytest.approx(495), pytest.approx(410))
    assert apart(stool, body, wide) == ()


def test_colours_are_read_or_refused_and_figures_stand_out_from_their_ground():
    for odd in ("red", "#12345", "#1234567", "#12345g", ""):
        with pytest.raises(BadInput):
            colour_of(odd)
    for ground in ((20, 30, 40), (240, 235, 220), (128, 128, 128)):
        assert sum(abs(a - b) for a, b in zip(ground, figure_on(ground), strict=True)) > 120
