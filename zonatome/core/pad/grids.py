"""Buttons and channels on a panel's own outline: where each stands, the folds, holes, twine, the cloth's grid."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from shapely.geometry import LineString
from shapely.geometry import Point as ShapelyPoint

from zonatome.core.errors import BadInput
from zonatome.core.outline import Outline, Point
from zonatome.core.pad.stack import Buttons
from zonatome.core.survey.kind import ButtonGrid, Channels
from zonatome.core.survey.restyle import button_travel, channels_fit, grid_travel

MOST_BUTTONS = 200
LEAST_APART = 40.0  # mm: closer buttons leave nothing to fold between
MOST_CHANNELS = 60
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
    grid: ButtonGrid

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
    wide, high = x1 - x0, y1 - y0
    across = _step(buttons.across, wide - 2 * buttons.margin, buttons.columns)
    down = _step(buttons.down, high - 2 * buttons.margin, buttons.rows)
    too_near = (buttons.columns > 1 and across < LEAST_APART) or (buttons.rows > 1 and down < LEAST_APART)
    if too_near or (buttons.columns - 1) * across >= wide or (buttons.rows - 1) * down >= high:
        raise BadInput(
            "columns",
            f"{buttons.columns} x {buttons.rows}",
            "fewer buttons",
            words=f"{buttons.columns} × {buttons.rows} buttons do not fit on a panel {wide:.0f} × {high:.0f} mm; "
            f"expected fewer, at least {LEAST_APART:.0f} mm apart.",
        )
    grid = ButtonGrid(buttons.rows, buttons.columns, across, down, buttons.deep, buttons.diamond)
    if grid.count > MOST_BUTTONS:
        raise BadInput("columns", grid.count, f"at most {MOST_BUTTONS} buttons on a panel")
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    at = tuple((middle[0] + x, middle[1] + y) for x, y in grid.places(across, down))
    inside = outline.polygon.buffer(-LEAST_MARGIN)
    if not all(inside.covers(ShapelyPoint(point)) for point in at):
        raise BadInput(
            "columns",
            f"{buttons.columns} x {buttons.rows}",
            "fewer buttons, or closer",
            words=f"A button would stand nearer than {LEAST_MARGIN:.0f} mm to the edge of this panel; expected "
            "fewer, or closer to each other.",
        )
    cloth_across, cloth_down = grid_travel(grid)
    return ButtonPlan(
        at,
        across,
        down,
        cloth_across if across else 0.0,
        cloth_down if down else 0.0,
        _folds(_rows(at), diamond=buttons.diamond),
        buttons.size,
        len(at) * (4 * pad + 300),
        grid,
    )


def _step(said: float | None, room: float, count: int) -> float:
    """How far apart: as said, else evenly over the room."""
    if count < 2:
        return 0.0
    return said if said is not None else room / (count - 1)


def _rows(at: tuple[Point, ...]) -> list[list[Point]]:
    rows: dict[float, list[Point]] = {}
    for point in at:
        rows.setdefault(round(point[1], 6), []).append(point)
    return list(rows.values())


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
    """The stitched lines of channels, how far apart they come out, and what the cloth takes for each; mm."""

    lines: tuple[tuple[Point, Point], ...]
    apart: float
    cloth_apart: float


def channel_lines(outline: Outline, channels: Channels) -> ChannelPlan:
    """Return parallel stitched lines on a panel, a whole number of channels evenly about its middle.

    The cloth travels sqrt(s² + 4 d²) over a channel s wide drawn d deep. Source: trade rule. Raises BadInput for fewer
    than two channels, for more than 60, and for lines too narrow or too deep.
    """
    x0, y0, x1, y1 = outline.bounds
    low, high = (x0, x1) if channels.upright else (y0, y1)
    channels_fit(high - low, channels.apart, channels.deep)
    count = round((high - low) / channels.apart)
    if count > MOST_CHANNELS:
        raise BadInput("apart", channels.apart, f"at most {MOST_CHANNELS} channels on a panel")
    step = (high - low) / count
    lines = []
    for k in range(1, count):
        at = low + k * step
        line = LineString([(at, y0 - 1), (at, y1 + 1)] if channels.upright else [(x0 - 1, at), (x1 + 1, at)])
        met = line.intersection(outline.polygon)
        for part in getattr(met, "geoms", [met]):
            if isinstance(part, LineString) and part.length > LEAST_MARGIN:
                a, b = part.coords[0], part.coords[-1]
                lines.append(((float(a[0]), float(a[1])), (float(b[0]), float(b[1]))))
    return ChannelPlan(tuple(lines), step, button_travel(step, channels.deep))
