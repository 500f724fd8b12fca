"""Numbers for drawings: strings with a fixed count of decimals. Points and paths are turned down here: y up on the
cloth is y down on a screen.
"""

from __future__ import annotations

from collections.abc import Iterable

from zonatome.core.outline import Point


def fixed(value: float, decimals: int = 1) -> str:
    """Return a number as SVG wants it, whatever the reader's language.

    >>> fixed(600.5), fixed(-0.04)
    ('600.5', '0.0')
    """
    text = f"{value:.{decimals}f}"
    return text[1:] if text.startswith("-") and float(text) == 0 else text


def down(point: Point, top: float) -> tuple[str, str]:
    """Return a point of a y-up frame in a y-down drawing whose upper edge is at y = top."""
    return fixed(point[0]), fixed(top - point[1])


def path_of(points: Iterable[Point], top: float, *, closed: bool = True) -> str:
    """Return an SVG path through points of a y-up frame.

    >>> path_of([(0, 0), (10, 0), (10, 5)], 20)
    'M0.0 20.0L10.0 20.0L10.0 15.0Z'
    """
    steps = "L".join(" ".join(down(p, top)) for p in points)
    return f"M{steps}Z" if closed else f"M{steps}"


def view_round(bounds: tuple[float, float, float, float], room: float) -> str:
    """Return the view box of a drawing turned down at its upper edge, with room on all sides; `bounds` are the least x
    and y and the greatest.

    >>> view_round((0, 0, 600, 400), 10)
    '-10.0 -10.0 620.0 420.0'
    """
    x0, y0, x1, y1 = bounds
    return f"{fixed(x0 - room)} {fixed(-room)} {fixed(x1 - x0 + 2 * room)} {fixed(y1 - y0 + 2 * room)}"


def bounds_of(points: Iterable[Point]) -> tuple[float, float, float, float]:
    """Return the least x and y of points and the greatest.

    >>> bounds_of([(3, 1), (0, 5)])
    (0, 1, 3, 5)
    """
    across, up = zip(*points, strict=True)
    return min(across), min(up), max(across), max(up)
