"""Plots as SVG, drawn by a plotting library."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

INK, SOFT, CHALK, LIGHT, LINE = "#20252c", "#5d6167", "#235c8c", "#cfd9e2", "#d5cab4"


def took_plot(rows: Sequence[tuple[str, float, float]]) -> bytes:
    """Return what was foreseen and what it took, in minutes, of each step: (step, foreseen, took), the first on top.

    The words of the axis are hours. Source: matplotlib's horizontal bars.
    """
    figure, axes = _figure(len(rows))
    places = range(len(rows))
    foreseen, took = [row[1] / 60 for row in rows], [row[2] / 60 for row in rows]
    axes.barh(places, foreseen, height=0.74, color=LIGHT, edgecolor=SOFT, linewidth=0.6, label="foreseen")
    axes.barh(places, took, height=0.34, color=CHALK, label="on the clock")
    axes.set_yticks(list(places), [row[0].title() for row in rows])
    axes.invert_yaxis()
    axes.set_xlabel("hours at the bench", color=SOFT)
    axes.legend(frameon=False, loc="lower right", labelcolor=INK)
    return _as_svg(figure)


def _figure(rows: int) -> tuple[Any, Any]:
    from matplotlib.figure import Figure  # noqa: PLC0415 a heavy library: only where something is drawn

    figure = Figure(figsize=(8.4, 0.8 + 0.36 * max(1, rows)), layout="constrained")
    figure.patch.set_alpha(0)
    axes = figure.add_subplot()
    axes.set_facecolor("none")
    for side in ("top", "right", "left"):
        axes.spines[side].set_visible(False)
    axes.spines["bottom"].set_color(LINE)
    axes.tick_params(colors=INK, length=0)
    axes.grid(axis="x", color=LINE, linewidth=0.6)
    axes.set_axisbelow(True)
    return figure, axes


def _as_svg(figure: Any) -> bytes:
    from matplotlib import rc_context  # noqa: PLC0415 as above

    content = io.BytesIO()
    with rc_context({"svg.hashsalt": "zonatome"}):  # the same plot is the same file
        figure.savefig(content, format="svg", metadata={"Date": None, "Creator": "Zonatome"})
    return content.getvalue()
