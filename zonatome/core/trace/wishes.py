"""What a panel shall have otherwise than the old cover had, and how its shape grows for it.

Restyling comes before there is a shape; so a wish waits with the panel until the shape is traced, measured or copied,
and the shape takes it then, once. When the wish changes, the shape takes the difference.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from zonatome.core.survey.kind import ButtonGrid, Channels, Part
from zonatome.core.survey.restyle import button_growth, grid_travel, layer_growth
from zonatome.core.trace.restyled import buttoned_shape, channelled, grown_shape, without_channels
from zonatome.core.trace.shape import Shape

SAME = 0.05  # mm


@dataclass(frozen=True)
class Wishes:
    """What a shape has been grown for: mm of foam more on the old pad, a grid of buttons, channels."""

    layer: float = 0.0
    buttons: ButtonGrid | None = None
    channels: Channels | None = None

    def as_data(self) -> dict[str, Any]:
        """Return it as a document keeps it."""
        grid = self.buttons
        told = [grid.rows, grid.columns, grid.across, grid.down, grid.deep] if grid else None
        if grid and told and grid.diamond:
            told.append(1)
        lines = [self.channels.apart, self.channels.deep, self.channels.upright] if self.channels else None
        held = {"layer": self.layer or None, "buttons": told, "channels": lines}
        return {key: value for key, value in held.items() if value is not None}


def wishes_in(data: Mapping[str, Any]) -> Wishes:
    """Return the wishes that a document keeps."""
    grid, lines = data.get("buttons"), data.get("channels")
    return Wishes(
        float(data.get("layer") or 0.0),
        _grid(grid) if grid else None,
        Channels(float(lines[0]), float(lines[1]), bool(lines[2])) if lines else None,
    )


def _grid(told: Sequence[Any]) -> ButtonGrid:
    across, down, deep = (float(v) for v in told[2:5])
    return ButtonGrid(int(told[0]), int(told[1]), across, down, deep, len(told) > 5)


def wishes_of(part: Part) -> Wishes:
    """Return what a panel shall have."""
    return Wishes(part.layer, part.buttons, part.channels)


def wished(shape: Shape, part: Part, has: Wishes) -> tuple[Shape, tuple[str, ...]]:
    """Return a shape with what its panel's wishes lack in it, and what was done, in words; nothing done: the shape
    itself.

    `has` is what it has been grown for already. Raises BadInput for a grid of buttons or channels that do not fit it.
    """
    wants, words, made = wishes_of(part), list[str](), shape
    (wider, higher), (was_wider, was_higher) = layer_growth(part, wants.layer), layer_growth(part, has.layer)
    is_thicker = abs(wider - was_wider) > SAME or abs(higher - was_higher) > SAME
    anew = wants.channels != has.channels or is_thicker
    if has.channels and anew:
        made = without_channels(made, has.channels)
    if is_thicker:
        made = grown_shape(made, wider - was_wider, higher - was_higher)
        words.append(f"grown by {wider - was_wider:.0f} × {higher - was_higher:.0f} mm for the foam on the arms")
    if wants.buttons != has.buttons:
        after = button_growth(wants.buttons) if wants.buttons else (0.0, 0.0)
        before = button_growth(has.buttons) if has.buttons else (0.0, 0.0)
        made = grown_shape(made, after[0] - before[0], after[1] - before[1])
        made = replace(made, marks=tuple(m for m in made.marks if m.means != "button"))
        if wants.buttons:
            words.append(
                f"grown by {after[0] - before[0]:.0f} × {after[1] - before[1]:.0f} mm for {wants.buttons.count} buttons"
            )
        else:
            words.append("its buttons taken away")
    grid = wants.buttons
    if grid and (words or not any(m.means == "button" for m in made.marks)):
        made = buttoned_shape(made, grid, grid_travel(grid))
    if wants.channels and anew:
        made, growth = channelled(
            made, apart=wants.channels.apart, deep=wants.channels.deep, upright=wants.channels.upright
        )
        words.append(f"channels marked, {growth:.0f} mm {'wider' if wants.channels.upright else 'higher'} for them")
    elif has.channels and anew:
        words.append("its channels taken away")
    return made, tuple(words)


def without_wishes(shape: Shape, part: Part, has: Wishes) -> Shape:
    """Return a shape without what it has been grown for so that buttons and channels can be drawn in: as large as the
    pad under it.
    """
    made, _ = wished(shape, replace(part, layer=has.layer, buttons=None, channels=None), has)
    return made


def old_cover_had(part: Part, usual: Part | None) -> Wishes:
    """Return what a shape traced from the old cover has in it: the buttons that the kind usually has, where it came in
    with them.
    """
    return Wishes(0.0, usual.buttons if usual is not None and part.is_on_old else None)
