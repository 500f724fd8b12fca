"""Files from elsewhere: read as they are, or refused in words with nothing kept."""

import io
import json
import math

import ezdxf
import pytest
from hypothesis import given

from tests.core.awkward import assert_same_outline, stars
from tests.core.lay.requests_of_the_trade import any_request
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats.drawing_in import MOST_BYTES, outline_from_drawing
from zonatome.core.formats.lay_json import read_lay, read_request, write_lay, write_request
from zonatome.core.formats.piece_json import piece_text, read_piece, write_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.lay.lay import easy_lay
from zonatome.core.outline import outline_of, rectangle
from zonatome.core.trace.by_tape import rounded_shape
from zonatome.core.trace.shape import edges_by_corners, shape_of

GOOD_REQUEST = {
    "format": "zonatome.lay-request",
    "version": 1,
    "cloth": {"kind": "roll", "width": 1370, "selvage": [12, 12]},
    "gap": 3,
    "pieces": [
        {"id": "seat", "outline": [[0, 0], [600, 20], [600, 520], [0, 540]], "count": 6, "turns": [0], "flip": False}
    ],
    "strips": [
        {"id": "welt", "width": 38, "total": 9200, "join": 40, "shortest": 500, "directions": ["across", "along"]}
    ],
}


def svg(body: str, head: str = 'width="400mm" height="300mm" viewBox="0 0 400 300"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {head}>{body}</svg>'.encode()


def dxf(points, *, units=4, closed=True) -> bytes:
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    document.modelspace().add_lwpolyline(points, close=closed)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


@given(stars())
def test_a_piece_written_and_read_back_is_the_same_piece(outline):
    shape = shape_of("Inside back", outline, edges_by_corners(outline), {"top": "card_strip", "left": "zip"})
    again = read_piece(json.loads(piece_text(shape)))
    assert_same_outline(again.outline, shape.outline)
    assert [(e.name, e.start, e.join, e.side) for e in again.edges] == [
        (e.name, e.start, e.join, e.side) for e in shape.edges
    ]
    assert_same_outline(again.cut_line, shape.cut_line, within=0.05)


def test_a_piece_with_only_an_outline_gets_edges_at_its_corners():
    data = {
        "format": "zonatome.piece",
        "version": 1,
        "name": "Inside back",
        "outline": [[0, 0], [520, 0], [500, 640], [20, 640]],
    }
    shape = read_piece({**data, "colour": "ignored"}, joins={"bottom": "fly"})
    assert [(e.side, e.join) for e in shape.edges] == [
        ("bottom", "fly"),
        ("right", "sewn"),
        ("top", "sewn"),
        ("left", "sewn"),
    ]


@pytest.mark.parametrize(
    ("change", "words"),
    [
        pytest.param({"format": "zonatome.lay"}, "format: expected 'zonatome.piece'", id="another format"),
        pytest.param({"version": 2}, "version 1 of zonatome.piece, got 2", id="a version it does not know, both named"),
        pytest.param({"outline": [[0, 0], [100, 100], [100, 0], [0, 100]]}, "crosses", id="a bow tie"),
        pytest.param({"outline": "round"}, "a list of 3", id="no list"),
        pytest.param(
            {"edges": [{"name": "a", "start": 9, "join": "sewn", "adds": 13}]},
            "rising start points",
            id="an edge beyond the outline",
        ),
        pytest.param(
            {"edges": [{"name": "a", "start": 0, "join": "magnet", "adds": 13}]},
            "edges.a.join",
            id="a join that there is not",
        ),
        pytest.param(
            {"edges": [{"name": "a", "start": 0, "join": "sewn", "adds": -2}]},
            r"edges\[0\].adds",
            id="a negative allowance",
        ),
        pytest.param(
            {"edges": [{"name": "a", "strat": 0, "join": "sewn", "adds": 2}]},
            "found 'strat'",
            id="a misspelt key is named",
        ),
    ],
)
def test_a_piece_is_refused_by_key_value_and_what_was_expected(change, words):
    data = {"format": "zonatome.piece", "version": 1, "name": "x", "outline": [[0, 0], [520, 0], [500, 640], [20, 640]]}
    with pytest.raises(BadInput, match=words):
        read_piece({**data, **change})


def test_an_svg_path_is_read_in_its_own_millimetres_with_y_up():
    outline = outline_from_drawing(svg('<path d="M0 0H400V200L300 300H0Z"/>'), name="old.svg")
    assert_same_outline(outline, outline_of([(0, 0), (300, 0), (400, 100), (400, 300), (0, 300)]))


def test_a_scaled_viewbox_and_a_transform_count():
    halved = svg(
        '<g transform="translate(10 10)"><rect x="0" y="0" width="400" height="200"/></g>',
        'width="200mm" height="150mm" viewBox="0 0 400 300"',
    )
    outline = outline_from_drawing(halved, name="old.svg")
    assert (outline.width, outline.height) == pytest.approx((200, 100), abs=0.01)


def test_curves_are_followed_and_the_largest_outline_is_taken():
    body = '<rect x="1" y="1" width="20" height="20"/><circle cx="200" cy="150" r="120"/><path d="M0 0 L10 10"/>'
    outline = outline_from_drawing(svg(body), name="old.svg")
    assert outline.area == pytest.approx(math.pi * 120**2, rel=0.003)


def test_a_dxf_polyline_is_read_in_its_unit_with_its_bulges():
    assert outline_from_drawing(
        dxf([(0, 0), (20, 0), (20, 10), (0, 10)], units=1), name="a.dxf"
    ).width == pytest.approx(508)
    half_round = outline_from_drawing(
        dxf([(0, 0, 0, 0, 0), (200, 0, 0, 0, 1), (200, 100, 0, 0, 0), (0, 100, 0, 0, 0)]), name="a.dxf"
    )
    assert half_round.area == pytest.approx(200 * 100 + math.pi * 50**2 / 2, rel=0.01)


BOMB = b'<?xml version="1.0"?><!DOCTYPE lolz [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>'


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        pytest.param(BOMB, "old.svg", "without entities of its own", id="an entity bomb"),
        pytest.param(svg("<g>" * 60 + "</g>" * 60), "old.svg", "40 deep", id="too deep"),
        pytest.param(svg("<g/>" * 21_000), "old.svg", "20000 elements", id="too many elements"),
        pytest.param(b" " * (MOST_BYTES + 1), "old.svg", "at most 2 MB", id="too large"),
        pytest.param(svg('<path d="M0 0L10 10"/>'), "old.svg", "a closed outline", id="no closed path"),
        pytest.param(svg("<text>seat</text>"), "old.svg", "a closed outline", id="no path at all"),
        pytest.param(
            svg('<path d="M0 0L100 100L100 0L0 100Z"/>'), "old.svg", "crosses", id="a path that crosses itself"
        ),
        pytest.param(b"not xml", "old.svg", "an .svg or .dxf", id="no svg inside"),
        pytest.param(b"<svg", "old.svg", "read to its end", id="broken off"),
        pytest.param(b"0\nSECTION\n2\nnothing", "old.dxf", "DXF", id="a broken DXF"),
        pytest.param(b"\x00\x01\x02" * 50, "old.dxf", "DXF", id="a binary named DXF"),
        pytest.param(
            dxf([(0, 0), (100, 0), (100, 50)], closed=False), "old.dxf", "a closed outline", id="an open polyline"
        ),
        pytest.param(b"x", "old.exe", "piece .json", id="another ending"),
    ],
)
def test_a_drawing_that_is_none_is_refused_in_words(content, name, words):
    with pytest.raises(BadInput, match=words) as refusal:
        outline_from_drawing(content, name=name)
    assert refusal.value.key == "file"


@examples(25)
@given(any_request())
def test_a_request_and_its_lay_written_and_read_back_are_the_same(request_):
    again = read_request(json.loads(json.dumps(write_request(request_))))
    assert write_request(again) == write_request(request_)
    lay = easy_lay(again)
    assert write_lay(read_lay(json.loads(json.dumps(write_lay(lay))))) == write_lay(lay)


def spoilt(path: str, value):
    """The good request with one thing changed, or taken out when the value is `...`."""
    data = json.loads(json.dumps(GOOD_REQUEST))
    *way, last = path.split(".")
    at = data
    for step in way:
        at = at[int(step)] if step.isdigit() else at[step]
    if value is ...:
        del at[last]
    else:
        at[last] = value
    return data


PANEL = {"outline": [[0, 0], [900, 0], [900, 900], [0, 900]]}


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        pytest.param(
            "cloth.repeat",
            {"along": -450, "across": 340},
            r"cloth.repeat.along: expected a number from 5",
            id="a repeat backwards",
        ),
        pytest.param(
            "cloth.repeat",
            {"across": 340, "drop": 3},
            r"cloth.repeat.drop: expected a number from -1 to 1",
            id="a drop of three",
        ),
        pytest.param(
            "cloth.repeat",
            {"across": 340, "origin": [1]},
            "cloth.repeat.origin: expected a list of 2",
            id="an origin of one",
        ),
        pytest.param("cloth.repeat", "stripes", "cloth.repeat: expected a JSON object", id="a repeat in words"),
        pytest.param(
            "cloth.flaws", [[[1, 1], [2, 1]]], r"cloth.flaws\[0\]: expected a list of 3", id="a flaw of two points"
        ),
        pytest.param(
            "cloth.flaws",
            [[[1, 1], [9, 9], [9, 1], [1, 9]]],
            r"cloth.flaws\[0\]: .*crosses",
            id="a flaw that crosses itself",
        ),
        pytest.param("cloth", {"kind": "panels"}, "the key 'panels'", id="panels without panels"),
        pytest.param(
            "cloth", {"kind": "panels", "panels": []}, "cloth.panels: expected a list of 1", id="no panel at all"
        ),
        pytest.param(
            "cloth",
            {"kind": "panels", "panels": [PANEL], "repeat": {"across": 9}},
            "each panel has its own",
            id="a motif on a remnant",
        ),
        pytest.param(
            "cloth",
            {"kind": "panels", "panels": [PANEL], "flaws": [{"panel": 1, "outline": PANEL["outline"]}]},
            r"cloth.flaws\[0\].panel: expected a whole number from 0 to 0, got 1",
            id="a flaw on a panel that there is not",
        ),
        pytest.param("cloth.kind", "sheet", "'roll' or 'panels'", id="another kind of cloth"),
        pytest.param(
            "pieces.0.anchor", [1, "2"], r"pieces\[0\].anchor\[1\]: expected a number", id="an anchor in words"
        ),
        pytest.param(
            "pieces.0.match", {"along": 1}, r"pieces\[0\].match.along: expected true or false", id="a match that is one"
        ),
        pytest.param(
            "pieces.0.count",
            5000,
            r"pieces\[0\].count: expected a whole number from 1 to 2000, got 5000",
            id="five thousand",
        ),
        pytest.param(
            "pinned",
            [{"piece": "none", "copy": 1, "x": 0, "y": 0}],
            r"pinned\[0\].piece: expected the id",
            id="a pin of no piece",
        ),
        pytest.param(
            "pinned", [{"piece": "seat", "copy": 99, "x": 0, "y": 0}], r"pinned\[0\].copy", id="a pin of no copy"
        ),
        pytest.param("cloth.width", -5, "cloth.width: expected a number from 50", id="a negative width"),
        pytest.param("cloth.width", float("nan"), "cloth.width", id="a width that is no number"),
        pytest.param("cloth.selvage", [700, 700], "edges that leave cloth", id="selvages that meet"),
        pytest.param("pieces", ..., "the key 'pieces'", id="no pieces"),
        pytest.param("pieces.0.outline", ..., r"pieces\[0\].outline", id="a piece without an outline"),
        pytest.param("pieces.0.count", 0, r"pieces\[0\].count: expected a whole number", id="none of it"),
        pytest.param("pieces.0.count", True, r"pieces\[0\].count", id="true is no count"),
        pytest.param("pieces.0.turns", "some", r"pieces\[0\].turns", id="turns in words"),
        pytest.param("pieces.0.flip", "no", r"pieces\[0\].flip", id="a flip in words"),
        pytest.param("strips.0.directions", ["up"], "along, across or bias", id="a direction that there is not"),
        pytest.param("strips.0.width", 0, r"strips\[0\].width", id="a strip without width"),
        pytest.param("version", 3, "version 1 of zonatome.lay-request, got 3", id="a version it does not know"),
        pytest.param("format", "zonatome.piece", "format", id="another format"),
        pytest.param("gap", "wide", "gap: expected a number", id="a gap in words"),
    ],
)
def test_a_lay_request_is_refused_by_key_value_and_what_was_expected(path, value, words):
    with pytest.raises(BadInput, match=words):
        read_request(spoilt(path, value))


def test_a_wrong_key_is_named_beside_the_one_expected():
    data = dict(GOOD_REQUEST)
    data["peices"] = data.pop("pieces")
    with pytest.raises(BadInput, match=r"the key 'pieces' .found 'peices'"):
        read_request(data)


def test_two_pieces_of_one_id_and_a_thousand_too_many_are_refused():
    piece = GOOD_REQUEST["pieces"][0]
    with pytest.raises(BadInput, match="stands once"):
        read_request({**GOOD_REQUEST, "pieces": [piece, piece]})
    with pytest.raises(BadInput, match="at most 2000 pieces"):
        read_request({**GOOD_REQUEST, "pieces": [{**piece, "id": f"p{i}", "count": 900} for i in range(3)]})


@pytest.mark.parametrize("text", ["[]", "{", "3", '"x"', "[" * 100_000, b"\xff\xfe{"])
def test_what_is_no_json_object_is_refused(text):
    with pytest.raises(BadInput, match="a JSON object"):
        read_json(text)


def test_a_rounded_shape_survives_the_file_with_its_four_edges():
    shape = rounded_shape("Cushion", 500, 400, 60, {"top": "zip"})
    assert len(read_piece(write_piece(shape)).edges) == 4
    assert rectangle(10, 10).area == 100
