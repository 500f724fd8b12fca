"""Buttons and channels on a panel's own outline: where each stands, the folds, holes, twine, the cloth's grid."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.pad.stack import Buttons
from zonatome.core.survey.restyle import button_travel

MOST_BUTTONS = 200
LEAST_APART = 40.0  # mm: closer buttons leave nothing to fold between
LEAST_MARGIN = 25.0  # mm from a button to the panel's edge


@dataclass(frozen=True)
class ButtonPlan:
    """Where buttons stand, how far apart in the foam and in the cloth, the folds between them; mm."""

    at: tuple[Point, ...]
    across: float
    down: float
    cloth_across: float
    cloth_down: float
    folds: tuple[tuple[Point, Point], ...]
    hole: float
    twine: float

    @property
    def count(self) -> int:
        """How many buttons there are."""
        return len(self.at)


def button_plan(outline: Outline, buttons: Buttons, *, pad: float) -> ButtonPlan:
    """Return the buttons of a panel: rows and columns about its middle, with even margins.

    `pad` is how thick the pad is, mm. In a diamond every second row has one button less and stands between the columns.
    The cloth travels sqrt(s² + 4 d²) between buttons s apart drawn d deep; its grid is marked with that, the foam's
    with s. Each button takes four times the pad's thickness + 300 mm of twine, a hole its own size. Source: trade
    rules. Raises BadInput for more buttons than fit.
    """
    _whole("rows", buttons.rows)
    _whole("columns", buttons.columns)
    x0, y0, x1, y1 = outline.bounds
    wide, high = x1 - x0 - 2 * buttons.margin, y1 - y0 - 2 * buttons.margin
    across = wide / (buttons.columns - 1) if buttons.columns > 1 else 0.0
    down = high / (buttons.rows - 1) if buttons.rows > 1 else 0.0
    least = LEAST_APART
    if (buttons.columns > 1 and across < least) or (buttons.rows > 1 and down < least) or wide < 0 or high < 0:
        raise BadInput(
            "columns",
            f"{buttons.columns} x {buttons.rows}",
            "fewer buttons or a smaller margin",
            words=f"{buttons.columns} × {buttons.rows} buttons with {buttons.margin:.0f} mm to the edge do not fit on "
            f"a panel {x1 - x0:.0f} × {y1 - y0:.0f} mm; expected them at least {least:.0f} mm apart.",
        )
    middle = ((x0 + x1) / 2 + buttons.moved[0], (y0 + y1) / 2 + buttons.moved[1])
    rows = [_row(buttons, row, middle, across, down) for row in range(buttons.rows)]
    at = tuple(point for row in rows for point in row)
    if len(at) > MOST_BUTTONS:
        raise BadInput("columns", len(at), f"at most {MOST_BUTTONS} buttons on a panel")
    inside = outline.polygon.buffer(-LEAST_MARGIN)
    out = next((point for point in at if not inside.covers(ShapelyPoint(point))), None)
    if out is not None:
        raise BadInput(
            "margin",
            buttons.margin,
            "a larger margin or fewer buttons",
            words=f"A button would stand nearer than {LEAST_MARGIN:.0f} mm to the edge of this panel; expected a "
            "larger margin or fewer buttons.",
        )
    folds = _folds(rows, diamond=buttons.diamond)
    s_across = across if not buttons.diamond else math.hypot(across / 2, down)
    twine = len(at) * (4 * pad + 300)
    return ButtonPlan(
        at,
        across,
        down,
        _travel(across, buttons.deep, s_across, diamond=buttons.diamond),
        _travel(down, buttons.deep, s_across, diamond=buttons.diamond),
        folds,
        buttons.size,
        twine,
    )


def _travel(apart: float, deep: float, slant: float, *, diamond: bool) -> float:
    """How far the cloth goes for a step across or down: along the folds, which in a diamond run aslant."""
    if not apart:
        return 0.0
    if not diamond:
        return button_travel(apart, deep)
    return apart * button_travel(slant, deep) / slant


def _row(buttons: Buttons, row: int, middle: Point, across: float, down: float) -> list[Point]:
    count = buttons.columns - 1 if buttons.diamond and row % 2 else buttons.columns
    y = middle[1] + ((buttons.rows - 1) / 2 - row) * down
    return [(middle[0] + (column - (count - 1) / 2) * across, y) for column in range(count)]


def _folds(rows: list[list[Point]], *, diamond: bool) -> tuple[tuple[Point, Point], ...]:
    """The folds between neighbours: along rows and columns, or aslant in a diamond."""
    folds = []
    for row in rows if not diamond else ():
        folds += list(pairwise(row))
    for one, next_ in pairwise(rows):
        for a in one:
            near = sorted(next_, key=lambda b: abs(b[0] - a[0]))
            if not near:
                continue
            close = abs(near[0][0] - a[0]) + 1e-6
            folds += [(a, b) for b in near if abs(b[0] - a[0]) <= close]
    return tuple(folds)


def _whole(key: str, count: int) -> None:
    if not 1 <= count <= 30:
        raise BadInput(key, count, f"1 to 30 {key} of buttons")


@dataclass(frozen=True)
class ChannelPlan:
    """The stitched lines of channels, and what the cloth takes for them across; mm."""

    lines: tuple[tuple[Point, Point], ...]
    apart: float
    cloth_apart: float


def channel_lines(outline: Outline, *, apart: float, deep: float, upright: bool = True) -> ChannelPlan:
    """Return parallel stitched lines on a panel, evenly about its middle. Raises BadInput for fewer than two."""
    x0, y0, x1, y1 = outline.bounds
    low, high = (x0, x1) if upright else (y0, y1)
    count = round((high - low) / apart) if apart > 0 else 0
    if not 2 <= count <= 60 or apart < 20 or not 0 <= deep <= apart / 2:
        raise BadInput(
            "apart", apart, f"channels 20 to {(high - low) / 2:.0f} mm apart, drawn no deeper than half of that"
        )
    step = (high - low) / count
    lines = []
    for k in range(1, count):
        at = low + k * step
        line = LineString([(at, y0 - 1), (at, y1 + 1)] if upright else [(x0 - 1, at), (x1 + 1, at)])
        met = line.intersection(outline.polygon)
        for part in getattr(met, "geoms", [met]):
            if isinstance(part, LineString) and part.length > LEAST_MARGIN:
                a, b = part.coords[0], part.coords[-1]
                lines.append(((float(a[0]), float(a[1])), (float(b[0]), float(b[1]))))
    return ChannelPlan(tuple(lines), step, button_travel(step, deep))
