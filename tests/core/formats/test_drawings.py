"""Drawings in and out: what goes out comes in again, what others wrote comes in at the right size, what harms is
refused.
"""

import io
import itertools
import math
import re
import resource
import sys
from dataclasses import replace

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.core.awkward import stars, with_arcs
from tests.often import examples
from zonatome.core.errors import BadInput
from zonatome.core.formats import drawing_apart
from zonatome.core.formats.drawing_in import MOST_BYTES, outline_from_drawing, read_drawing
from zonatome.core.formats.piece_json import piece_text, read_piece
from zonatome.core.formats.reading import read_json
from zonatome.core.formats.shape_out import shape_dxf, shape_svg
from zonatome.core.formats.shape_pdf import LONGEST_SHEET, shape_pdf, tiling
from zonatome.core.intake import apart
from zonatome.core.joins import JOINS
from zonatome.core.trace.by_tape import ellipse_shape, rectangle_shape, t_shape
from zonatome.core.trace.shape import Mark, Match, edges_by_corners, shape_of
from zonatome.standins.pattern_plotter import plot

SEWN = {"top": "sewn", "right": "sewn", "bottom": "stapled_under", "left": "sewn"}
MM = 72 / 25.4
NS = 'xmlns="http://www.w3.org/2000/svg"'


@st.composite
def shapes(draw):
    outline = draw(st.one_of(stars(), with_arcs()))
    shape = shape_of("Äußere Lehne <1> & Co", outline, edges_by_corners(outline), SEWN)
    edge = draw(st.sampled_from(shape.edges))
    shape = shape.with_edge(edge.name, join=draw(st.sampled_from(list(JOINS))))
    middle = outline.polygon.representative_point()
    return replace(shape, matches=(Match(edge.name, 5.0, True),), marks=(Mark("button", ((middle.x, middle.y),)),))


@given(shapes())
@examples(40)
def test_a_shape_goes_out_as_svg_dxf_and_json_and_comes_in_with_the_same_outline(shape):
    x0, y0, _, _ = shape.outline.bounds
    at_corner = shape.outline.moved(-x0, -y0)
    for name, write in (("out.svg", shape_svg), ("out.dxf", shape_dxf)):
        content = write(shape, pieces=2)
        back = outline_from_drawing(content, name=name)
        apart = back.polygon.exterior.hausdorff_distance(at_corner.polygon.exterior)
        assert apart < 0.05, f"{name}: {apart:.3f} mm; the finished line and not the cut line, though that is larger"
        assert read_drawing(content, name=name).says_unit
        plotted = plot(content, name=name)
        cut = shape.cut_line
        assert plotted.width == pytest.approx(max(cut.width, plotted.width), abs=0.05)
        assert Image.open(io.BytesIO(plotted.picture)).width > 50
    again = read_piece(read_json(piece_text(shape)))
    assert again.outline.polygon.exterior.hausdorff_distance(shape.outline.polygon.exterior) < 0.01
    assert [(e.name, e.join, e.adds) for e in again.edges] == [(e.name, e.join, e.adds) for e in shape.edges]
    assert (again.matches, len(again.marks)) == (shape.matches, 1)


# --- from other drawing programs


def inches(body: str) -> bytes:
    return f'<svg {NS} width="4in" height="4in" viewBox="0 0 400 400">{body}</svg>'.encode()


def test_units_viewbox_transforms_uses_and_every_kind_of_curve_come_in_at_the_right_size():
    path = "M10 10 h50 v50 a25 25 0 0 1 -50 0 z"
    area = (50 * 50 + math.pi * 25**2 / 2) * 4 * (25.4 / 100) ** 2
    turned = read_drawing(
        inches(f'<g transform="rotate(30 100 100) scale(2)"><path d="{path}"/></g>'), name="a.svg"
    ).outlines()[0]
    assert turned.area == pytest.approx(area, rel=2e-3)
    used = read_drawing(
        inches(f'<defs><path id="p" d="{path}"/></defs><g transform="scale(2)"><use href="#p"/></g>'), name="a.svg"
    ).outlines()[0]
    assert used.area == pytest.approx(area, rel=2e-3)
    for body, square_mm in (
        ('<circle cx="200" cy="200" r="100"/>', math.pi * 25.4**2),
        ('<ellipse cx="200" cy="200" rx="100" ry="50"/>', math.pi * 25.4 * 12.7),
        ('<rect x="10" y="10" width="200" height="100" rx="20"/>', (200 * 100 - (4 - math.pi) * 400) * 0.0645),
        ('<polygon points="0,0 200,0 200,100"/>', 10000 * 0.064516),
        ('<path d="M0 0 C 100 0 200 100 200 200 S 100 300 0 300 Q -80 150 0 0 Z"/>', None),
    ):
        found = read_drawing(inches(body), name="a.svg").outlines()[0]
        if square_mm:
            assert found.area == pytest.approx(square_mm, rel=3e-3), body
    bare = f'<svg {NS}><path d="M0 0h100v50h-100z"/></svg>'.encode()
    assert not read_drawing(bare, name="a.svg").says_unit
    for unit, width in (
        ("", 100),
        ("mm", 100),
        ("cm", 1000),
        ("in", 2540),
        ("px", 100 * 25.4 / 96),
        ("pt", 100 * 25.4 / 72),
    ):
        assert outline_from_drawing(bare, name="a.svg", unit=unit).width == pytest.approx(width, rel=1e-6)
    pixels = f'<svg {NS} width="960px" height="960px" viewBox="0 0 960 960"><path d="M0 0h96v96h-96z"/></svg>'.encode()
    assert outline_from_drawing(pixels, name="a.svg").width == pytest.approx(25.4, abs=0.01)


def dxf_of(draw, units=4) -> bytes:
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    draw(document, document.modelspace())
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def test_loose_lines_and_arcs_splines_blocks_and_units_of_a_dxf_come_in_closed_and_at_the_right_size():
    def loose(_, space):  # a square with a half round on it, drawn in no order and in both directions
        space.add_line((0, 0), (10, 0))
        space.add_line((10, 5), (10, 0))
        space.add_arc((5, 5), 5, 0, 180)
        space.add_line((0, 5), (0, 0))

    assert outline_from_drawing(dxf_of(loose, 1), name="a.dxf").area == pytest.approx(
        (50 + math.pi * 12.5) * 25.4**2, rel=1e-3
    )

    def blocks(document, space):
        inner = document.blocks.new("INNER")
        inner.add_lwpolyline([(0, 0), (30, 0), (30, 20), (0, 20)], close=True)
        outer = document.blocks.new("OUTER")
        outer.add_blockref("INNER", (5, 5), dxfattribs={"rotation": 90})
        space.add_blockref("OUTER", (100, 100), dxfattribs={"xscale": 4, "yscale": 4})

    nested = outline_from_drawing(dxf_of(blocks, 5), name="a.dxf")
    assert (nested.width, nested.height) == pytest.approx((800, 1200))

    def smooth(_, space):
        space.add_spline(fit_points=[(0, 0), (300, 50), (400, 400), (50, 350), (0, 0)])
        space.add_ellipse((1000, 0), major_axis=(200, 0), ratio=0.5)
        space.add_circle((0, 0), 20)

    found = read_drawing(dxf_of(smooth), name="a.dxf").outlines()
    assert len(found) == 3
    assert sorted(o.area for o in found)[1] == pytest.approx(math.pi * 200 * 100, rel=1e-3)
    assert outline_from_drawing(dxf_of(smooth), name="a.dxf", which=3).width == pytest.approx(40, abs=0.1)
    with pytest.raises(BadInput, match="3 closed outlines"):
        outline_from_drawing(dxf_of(smooth), name="a.dxf", which=4)


# --- hostile


def laughs() -> bytes:
    rows = "".join(f'<g id="g{n}">' + f'<use href="#g{n - 1}"/>' * 10 + "</g>" for n in range(1, 10))
    return f'<svg {NS}><g id="g0"><path d="M0 0h10v10z"/></g>{rows}</svg>'.encode()


def many_points() -> bytes:
    rows = ["0", "SECTION", "2", "ENTITIES", "0", "LWPOLYLINE", "8", "0", "90", "1000000", "70", "1"]
    rows += [f"10\n{k % 997}.5\n20\n{k % 991}.5" for k in range(1_000_000)]
    return "\n".join([*rows, "0", "ENDSEC", "0", "EOF"]).encode()


def block_bomb() -> bytes:
    def draw(document, space):
        document.blocks.new("B0").add_line((0, 0), (1, 1))
        for n in range(1, 12):
            block = document.blocks.new(f"B{n}")
            for k in range(10):
                block.add_blockref(f"B{n - 1}", (k, 0))
        space.add_blockref("B11", (0, 0))

    return dxf_of(draw)


def array_bomb() -> bytes:
    def draw(document, space):
        document.blocks.new("B0").add_line((0, 0), (1, 1))
        space.add_blockref(
            "B0", (0, 0), dxfattribs={"row_count": 30000, "column_count": 30000, "row_spacing": 1, "column_spacing": 1}
        )

    return dxf_of(draw)


def itself() -> bytes:
    def draw(document, space):
        block = document.blocks.new("SELF")
        block.add_line((0, 0), (1, 1))
        block.add_blockref("SELF", (1, 1))
        space.add_blockref("SELF", (0, 0))

    return dxf_of(draw)


def svg_of(body: str, head: str = "") -> bytes:
    return f"{head}<svg {NS} xmlns:xlink='http://www.w3.org/1999/xlink'>{body}</svg>".encode()


HOSTILE = {
    "a DXF with a million points": ("a.dxf", many_points, "at most 2 MB"),
    "blocks within blocks, ten to the eleventh": ("a.dxf", block_bomb, "blocks"),
    "a block laid 900 million times": ("a.dxf", array_bomb, "blocks"),
    "a block that contains itself": ("a.dxf", itself, "file"),
    "numbers that are none in a DXF": (
        "a.dxf",
        lambda: dxf_of(lambda _, s: s.add_lwpolyline([(0, 0), (1e308, 0), (1e308, 1e308)], close=True)),
        "file",
    ),
    "a script": ("a.svg", lambda: svg_of("<script>1</script><path d='M0 0h50v50z'/>"), "scripts"),
    "a script in an attribute": ("a.svg", lambda: svg_of("<path onload='1' d='M0 0h50v50z'/>"), "scripts"),
    "a picture from elsewhere": (
        "a.svg",
        lambda: svg_of("<image xlink:href='file:///etc/passwd'/><path d='M0 0h50v50z'/>"),
        "nothing outside",
    ),
    "a use from elsewhere": (
        "a.svg",
        lambda: svg_of("<use href='other.svg#x'/><path d='M0 0h50v50z'/>"),
        "nothing outside",
    ),
    "a style from elsewhere": (
        "a.svg",
        lambda: svg_of("<path style='fill:url(other.svg#x)' d='M0 0h50v50z'/>"),
        "nothing outside",
    ),
    "entities within entities": (
        "a.svg",
        lambda: svg_of("<path d='M0 0h50v50z'/>", '<!DOCTYPE s [<!ENTITY a "aa"><!ENTITY b "&a;&a;&a;">]>'),
        "document type",
    ),
    "uses within uses": ("a.svg", laughs, "when all uses are drawn"),
    "a use of itself": ("a.svg", lambda: svg_of("<g id='a'><use href='#a'/></g>"), "circles"),
    "1e308": ("a.svg", lambda: svg_of("<path d='M0 0 L1e308 0 L1e308 1e308 Z'/>"), "within 100 m"),
    "a curve to 1e300": ("a.svg", lambda: svg_of("<path d='M0 0 C1e300 0 0 1e300 5 5 Z'/>"), "file"),
    "not a number": ("a.svg", lambda: svg_of("<path transform='scale(nan)' d='M0 0h50v50z'/>"), "file"),
    "a polygon that crosses itself": ("a.svg", lambda: svg_of("<path d='M0 0L100 100L100 0L0 100Z'/>"), "crosses"),
    "elements 100 deep": ("a.svg", lambda: svg_of("<g>" * 100 + "</g>" * 100), "deep"),
    "fifty thousand arcs in one word": (
        "a.svg",
        lambda: svg_of(f"<path d='M0 0A{'1 1 0 0 1 5 5 ' * 50_000}'/>"),
        "steps in all its paths",
    ),
    "19,000 arcs": (
        "a.svg",
        lambda: svg_of(f"<path d='M0 0{''.join(f'A9 9 0 0 1 {k % 400} {k % 300}' for k in range(19_000))}z'/>"),
        "5000",
    ),
    "12,000 lines from one point": (
        "a.dxf",
        lambda: dxf_of(lambda _, s: [s.add_line((0, 0), (k % 997, 1 + k % 991)) for k in range(12_000)]),
        "meet in one point",
    ),
    "an open line": ("a.svg", lambda: svg_of("<path d='M0 0h50v50'/>"), "closed outline"),
    "nothing": ("a.dxf", lambda: b"", "DXF"),
    "bytes": ("a.dxf", lambda: bytes(range(256)) * 40, "DXF"),
    "another file": ("a.pdf", lambda: b"%PDF-1.7", ".svg or .dxf"),
    "larger than allowed": ("a.svg", lambda: b"<svg>" + b" " * MOST_BYTES, "at most 2 MB"),
}


@pytest.mark.parametrize("what", HOSTILE)
def test_a_hostile_drawing_is_refused_with_a_sentence_in_bounded_time_and_memory(what):
    name, make, words = HOSTILE[what]
    content = make()
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(BadInput) as refusal:
        outline_from_drawing(content, name=name)
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 300e6 / 1024, "kilobytes"
    assert re.search(re.escape(words), str(refusal.value)), str(refusal.value)


def without_header() -> bytes:
    """Nothing but four lines, as small machines write it."""
    rows = ["0", "SECTION", "2", "ENTITIES"]
    for (x0, y0), (x1, y1) in itertools.pairwise([*SQUARE, SQUARE[0]]):
        rows += ["0", "LINE", "8", "0", "10", str(x0), "20", str(y0), "11", str(x1), "21", str(y1)]
    return "\n".join([*rows, "0", "ENDSEC", "0", "EOF", ""]).encode()


SQUARE = [(0, 0), (300, 0), (300, 200), (0, 200)]


@pytest.mark.parametrize(
    ("name", "content"),
    [
        pytest.param(
            "a.svg",
            svg_of(
                "<path d='M0 0h300v200h-300z'/>",
                '<?xml version="1.0"?><!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "http://www.w3.org/Graphics/SVG/1.1/DTD/svg11.dtd">',
            ),
            id="the usual line of older programs",
        ),
        pytest.param("a.dxf", without_header(), id="a DXF without a header is in mm"),
        pytest.param(
            "a.dxf",
            dxf_of(
                lambda _, s: [
                    s.add_line((9, 9), (9, 9)),
                    s.add_arc((1, 1), 0, 0, 90),
                    s.add_lwpolyline(SQUARE, close=True),
                ]
            ),
            id="lines of no length and arcs of no radius are passed over",
        ),
        pytest.param(
            "a.dxf",
            dxf_of(lambda _, s: s.add_lwpolyline(SQUARE, close=True, dxfattribs={"layer": "odd"})).replace(
                b"odd\n", b"\xff\xfe\x00od\n", 1
            ),
            id="odd bytes are recovered from",
        ),
    ],
)
def test_what_other_programs_write_is_read_at_its_size(name, content):
    outline = outline_from_drawing(content, name=name)
    assert (outline.width, outline.height) == pytest.approx((300, 200), abs=0.1)


def test_arcs_are_followed_however_many():
    """By hand: a thousand half circles of radius 2 along a line bound 1000 x 2 pi of area above it, and the strip of 10
    below.
    """
    bumps = "".join(f"A2 2 0 0 1 {4 * k + 4} 0" for k in range(100))
    outline = outline_from_drawing(svg_of(f"<path d='M0 0{bumps}V10H0z'/>"), name="a.svg")
    assert outline.area == pytest.approx(100 * 2 * math.pi + 400 * 10, rel=0.003)


@pytest.mark.parametrize(
    ("work", "words"),
    [
        pytest.param("while True: pass", "within 5 seconds", id="without end"),
        pytest.param("x = [bytearray(2**24) for _ in range(400)]", "at most 512 MB", id="six gigabytes"),
        pytest.param("import os; os.abort()", "within 5 seconds", id="ended by force"),
    ],
)
def test_a_drawing_that_takes_too_much_is_ended_and_the_next_one_read(monkeypatch, work, words):
    made = f"""
from zonatome.core.formats import drawing_in; from zonatome.core.intake import apart
def odd(*a, **k):
    {work}
drawing_in.outline_from_drawing = odd
apart.WORKS["drawing"] = apart.Work(apart.WORKS["drawing"].function, "drawing", seconds=1)
apart.main()
"""
    with monkeypatch.context() as patched:
        patched.setattr(apart, "READER", (sys.executable, "-c", made))
        with pytest.raises(BadInput, match=words):
            drawing_apart.outline_read_apart(svg_of("<path d='M0 0h50v50z'/>"), name="a.svg")
    good = drawing_apart.outline_read_apart(svg_of("<path d='M0 0h300v200h-300z'/>"), name="a.svg")
    assert good.area == pytest.approx(60_000)
    with pytest.raises(BadInput, match="closed outline"):
        drawing_apart.outline_read_apart(svg_of("<path d='M0 0h300'/>"), name="a.svg")


# --- on paper


def rectangles(pdf: bytes) -> list[tuple[float, float]]:
    return [(float(w) / MM, float(h) / MM) for w, h in re.findall(rb"[\d.-]+ [\d.-]+ ([\d.]+) ([\d.]+) re S", pdf)]


@pytest.mark.parametrize(
    ("paper", "units", "side"), [("a4", "metric", 100), ("letter", "imperial", 101.6), ("long", "metric", 100)]
)
def test_a_pattern_on_paper_is_true_size_and_carries_a_square_to_measure(paper, units, side):
    shape = t_shape("Seat cushion", 620, 560, 500, 120, SEWN)
    pdf = shape_pdf(shape, paper=paper, pieces=6, units=units)
    squares = [r for r in rectangles(pdf) if r == pytest.approx((side, side), abs=0.01)]
    assert len(squares) == 1
    pages = len(re.findall(rb"/Type /Page\b", pdf))
    lies = tiling(shape.cut_line.width + 20, shape.cut_line.height + 20, paper) if paper != "long" else None
    assert pages == (1 if lies is None else 1 + lies.columns * lies.rows)
    if lies:
        assert lies.step[0] * (lies.columns - 1) + lies.shown[0] >= shape.cut_line.width + 20, (
            "the sheets cover all of it"
        )
    else:
        box = re.search(rb"/MediaBox \[ 0 0 ([\d.]+) ([\d.]+)", pdf)
        assert float(box[1]) / MM == pytest.approx(shape.cut_line.width + 20, abs=0.1)
        # the cut line's own points, in mm on the page
        drawn = [(float(x) / MM, float(y) / MM) for x, y in re.findall(rb"([\d.-]+) ([\d.-]+) [ml]\b", pdf)]
        x0, y0, _, _ = shape.cut_line.bounds
        for x, y in shape.cut_line.points:
            assert min(math.dist((x - x0 + 10, y - y0 + 10), p) for p in drawn) < 0.01


def test_a_sheet_that_no_printer_has_is_refused_in_words():
    long = rectangle_shape("Bench", LONGEST_SHEET + 100, 400, SEWN)
    with pytest.raises(BadInput, match="tile it"):
        shape_pdf(long, paper="long")
    with pytest.raises(BadInput, match="at most 120 sheets"):
        shape_pdf(rectangle_shape("Bench", 9000, 4000, SEWN), paper="a4")
    with pytest.raises(BadInput, match="a4, letter, long"):
        shape_pdf(long, paper="a0")


def test_the_plotter_draws_what_is_in_the_file_and_refuses_what_its_roll_cannot_take():
    shape = ellipse_shape("Oval", 700, 420, SEWN)
    plotted = plot(shape_dxf(shape), name="a.dxf")
    assert (plotted.width, plotted.height) == pytest.approx((shape.cut_line.width, shape.cut_line.height), abs=0.05)
    assert plotted.drawn > shape.cut_line.perimeter + shape.outline.perimeter - 1
    assert plotted.seconds > 0
    assert plot(shape_svg(rectangle_shape("Long", 1900, 400, SEWN)), name="a.svg").turned
    with pytest.raises(BadInput, match="roll of 1600 mm"):
        plot(shape_svg(rectangle_shape("Large", 1900, 1700, SEWN)), name="a.svg")
