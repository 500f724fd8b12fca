"""A pattern plotter that ships with the application: reads a drawing as such a device would, and draws it to scale.

It stands in for the wide pen plotter that draws patterns on paper off a roll. It takes the file alone, knows nothing of
the shape it was made from, and tells the size that came out.
"""

from __future__ import annotations

import io
import itertools
import math
from dataclasses import dataclass

from PIL import Image, ImageDraw

from zonatome.core.errors import BadInput
from zonatome.core.formats.drawing_in import read_drawing

ROLL = 1_600.0  # mm of paper
SPEED = 350.0  # mm a second with the pen down
LIFT = 0.4  # seconds for each time that the pen is lifted and moved on
MOST_PIXELS = 1_600  # on the longer side of the picture
COLOURS = ((250, 247, 238), (205, 198, 182), (34, 40, 52))  # a picture of three is packed sooner than one of any
PAPER, RULE, PEN = range(3)


@dataclass(frozen=True)
class Plotted:
    """What came out: the picture as PNG, its size in mm, how long the pen's way was, how often it was lifted, and the
    seconds it took.
    """

    picture: bytes
    width: float
    height: float
    drawn: float
    lifts: int
    seconds: float
    turned: bool


def plot(content: bytes, *, name: str, roll: float = ROLL) -> Plotted:
    """Draw an SVG or DXF file at true size on a roll of paper; turned by a quarter when only so it fits.

    Raises BadInput for a file that it cannot read and for a drawing that is wider than the roll both ways.
    """
    lines = read_drawing(content, name=name).lines
    if not lines:
        raise BadInput("file", "nothing", "a drawing with lines to draw")
    points = [p for line in lines for p in line.points]
    x0, y0 = min(p[0] for p in points), min(p[1] for p in points)
    width, height = max(p[0] for p in points) - x0, max(p[1] for p in points) - y0
    turned = height > roll >= width or (width > height and height <= roll < width)
    if min(width, height) > roll:
        raise BadInput("file", f"{width:.0f} x {height:.0f} mm", f"a drawing that fits a roll of {roll:.0f} mm")
    scale = min(2.0, MOST_PIXELS / max(width, height))
    edge = 12
    picture = Image.new("P", (math.ceil(width * scale) + 2 * edge, math.ceil(height * scale) + 2 * edge), PAPER)
    picture.putpalette([value for colour in COLOURS for value in colour])
    draw = ImageDraw.Draw(picture)
    for k in range(int(max(width, height) // 100) + 1):  # the paper's own squares of 100 mm
        at = k * 100 * scale + edge
        draw.line([(at, 0), (at, picture.height)], fill=RULE)
        draw.line([(0, picture.height - at), (picture.width, picture.height - at)], fill=RULE)
    drawn = 0.0
    for line in lines:
        ring = [*line.points, line.points[0]] if line.is_closed else list(line.points)
        placed = [((x - x0) * scale + edge, picture.height - edge - (y - y0) * scale) for x, y in ring]
        draw.line(placed, fill=PEN, width=2)
        drawn += sum(math.dist(a, b) for a, b in itertools.pairwise(ring))
    out = io.BytesIO()
    picture.save(out, "PNG")
    return Plotted(out.getvalue(), width, height, drawn, len(lines), drawn / SPEED + LIFT * len(lines), turned)
