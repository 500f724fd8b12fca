"""Restyling: what shall be other than before.

Each change returns the furniture changed, and what follows from it in words.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.survey.furniture import add_part, change_part, drop_part, put_over
from zonatome.core.survey.kind import ButtonGrid, Channels, Kind, Part
from zonatome.core.survey.splitting import split_part

MOST_LAYER = 100.0
NARROWEST_CHANNEL = 20.0  # mm
LEAST_STRIPE = 40.0  # mm: narrower than this two seam allowances meet behind it


@dataclass(frozen=True)
class Restyled:
    """The furniture after a change, what the change was, and what follows at which step."""

    kind: Kind
    words: str
    follows: tuple[tuple[str, str], ...]
    touched: tuple[str, ...]


ON_ARMS = ("inside_arm", "arm_pad")
ARM_ENDS = ("facing", "arm_front")


def arm_parts(kind: Kind) -> tuple[Part, ...]:
    """Return the panels that go over an arm's pad: inside arms and arm pads."""
    return tuple(p for p in kind.panels if p.key.startswith(ON_ARMS))


def layer_growth(part: Part, layer: float) -> tuple[float, float]:
    """Return by how many mm a panel of an arm grows across and up for a layer of foam on the arm's pad.

    A panel that goes over the pad grows by twice the layer both ways, the trade's rule for a thicker pad. The facing
    at its end is wrapped round a board that grows with the arm, by a layer on each side and one on top; an outside
    arm's top edge rises with the arm by one.
    """
    if part.key.startswith("outside_arm"):
        return 0.0, layer
    return 2 * layer, layer if part.key.startswith(ARM_ENDS) else 2 * layer


def thicker_arms(kind: Kind, thickness: float) -> Restyled:
    """Lay a foam layer of this many mm on the old arm pads; facings and outside arms grow with them, see
    `layer_growth`.

    Raises BadInput where there are no padded arms.
    """
    arms = arm_parts(kind)
    if not arms:
        raise BadInput("arms", kind.name, "furniture with padded arms")
    if not 0 < thickness <= MOST_LAYER:
        raise BadInput("thickness", thickness, f"more than 0, up to {MOST_LAYER:.0f} mm")
    beside = tuple(p for p in kind.panels if p.key.startswith((*ARM_ENDS, "outside_arm")))
    for arm in (*arms, *beside):
        wider, higher = layer_growth(arm, thickness)
        kind = change_part(
            kind, arm.key, layer=arm.layer + thickness, width=arm.width + wider, height=arm.height + higher
        )
    grows = f"{2 * thickness:.0f} mm each way" + (", facings and outside arms with them" if beside else "")
    return Restyled(
        kind,
        f"{thickness:.0f} mm more foam on the arms",
        (
            ("trace", f"{len(arms)} arm panels grow by {grows}"),
            ("lay", "lay again"),
            ("pad", f"a {thickness:.0f} mm layer on each arm"),
        ),
        tuple(a.key for a in (*arms, *beside)),
    )


def contrast(kind: Kind, keys: Sequence[str]) -> Restyled:
    """Cut these panels from a second cloth. Raises BadInput for none, or a part that is no panel."""
    if not keys:
        raise BadInput("panels", 0, "at least one panel")
    names = []
    for key in keys:
        part = kind.part(key)
        if part not in kind.panels:
            raise BadInput("panels", part.name, "a panel of the new cover")
        names.append(part.name.lower())
        kind = change_part(kind, key, contrast=True)
    words = " and ".join(names)
    return Restyled(
        kind,
        f"{words} in a second cloth",
        (("lay", f"a cloth of its own for {words}, with a lay of its own"),),
        tuple(keys),
    )


def centre_stripe(kind: Kind, key: str, width: float, panel_width: float) -> Restyled:
    """Seam a stripe of a second cloth, so many mm wide, down the middle of a panel: three strips in place of one.

    The two seams add two allowances each: the three cuts together are 4 allowances wider than the one was. The
    stripe keeps the panel's key, and so its record. Raises BadInput for a stripe too narrow or too wide.
    """
    part = kind.part(key)
    side = (panel_width - width) / 2
    if not (width >= LEAST_STRIPE and side >= LEAST_STRIPE):
        raise BadInput(
            "width",
            width,
            f"{LEAST_STRIPE:.0f} to {panel_width - 2 * LEAST_STRIPE:.0f} mm, so that a seam's width is left on each "
            f"side",
        )
    share = width / panel_width
    strips = (
        (f"{part.name}, left strip", (1 - share) / 2),
        (f"{part.name}, stripe", share),
        (f"{part.name}, right strip", (1 - share) / 2),
    )
    made = split_part(kind, key, into=strips, keeps=1, new=True)
    made = change_part(made, key, contrast=True)
    keys = [p.key for p in made.parts if p.key == key or not kind.has(p.key)]
    left, right = (k for k in keys if k != key)
    made = replace(
        made, parts=tuple(replace(p, mirror={left: right, right: left}.get(p.key, p.mirror)) for p in made.parts)
    )
    seam = JOINS["sewn"].adds
    return Restyled(
        made,
        f"a {width:.0f} mm stripe down the {part.name.lower()}",
        (
            ("trace", f"one shape becomes three, {4 * seam:.0f} mm wider together for the seams"),
            ("lay", "the stripe on a cloth of its own"),
            ("fasten", "two seams to sew before it goes on"),
        ),
        tuple(keys),
    )


def strips_of(kind: Kind, key: str) -> tuple[str, ...]:
    """Return the strips that a panel shall be cut in, from left to right, where it is the stripe between others; else
    nothing.
    """
    strips = [key]
    for edge, first in (("left", True), ("right", False)):
        met = [m.beyond(key, edge) for m in kind.meetings_at(key, edge)]
        if len(met) != 1 or kind.part(met[0][0]).cover != "new" or not kind.part(key).contrast:
            return ()
        strips = [met[0][0], *strips] if first else [*strips, met[0][0]]
    return tuple(strips)


def button_travel(apart: float, deep: float) -> float:
    """Return the cloth's way between two buttons `apart` drawn `deep`, in mm: sqrt(s² + 4 d²), the trade's sum."""
    return math.sqrt(apart * apart + 4 * deep * deep)


def buttoned(kind: Kind, key: str, grid: ButtonGrid) -> Restyled:
    """Draw buttons into a panel.

    The cloth grows by its way between them. Raises BadInput for a grid that is none or does not fit.
    """
    part = kind.part(key)
    if not (1 <= grid.rows <= 12 and 1 <= grid.columns <= 12):
        raise BadInput("rows", f"{grid.rows} x {grid.columns}", "1 to 12 rows and columns")
    if not (0 <= grid.deep <= 100 and 20 <= grid.across <= 600 and 20 <= grid.down <= 600):
        raise BadInput(
            "across", f"{grid.across:g} x {grid.down:g}, {grid.deep:g} deep", "20 to 600 mm apart and 0 to 100 mm deep"
        )
    if (grid.columns - 1) * grid.across >= part.width or (grid.rows - 1) * grid.down >= part.height:
        raise BadInput(
            "across",
            f"{grid.columns} columns, {grid.rows} rows",
            f"a grid within {part.width:.0f} x {part.height:.0f} mm",
        )
    wider, higher = button_growth(grid)
    made = change_part(kind, key, buttons=grid)
    if not made.has("buttons"):
        made = add_part(made, "Buttons", what="trim", held=("twine",), cover="new")
        made = put_over(made, key, "buttons")
        closes = made.has("outside_back") and key == "inside_back" and "outside_back" not in made.sewn_with(key)
        if closes and ("outside_back", key) not in made.over:
            made = put_over(made, "buttons", "outside_back")
    return Restyled(
        made,
        f"{grid.count} buttons on the {part.name.lower()}",
        (
            ("trace", f"its shape grows by {wider:.0f} × {higher:.0f} mm for the way down to the buttons and up again"),
            ("pad", f"{grid.count} holes in the foam, on the plain grid"),
            ("trim", f"{grid.count} buttons covered, twine for each"),
        ),
        (key,),
    )


def grid_travel(grid: ButtonGrid) -> tuple[float, float]:
    """Return the cloth's way for a step across and a step down a grid, in mm: along the folds, which in a diamond run
    aslant.
    """
    if not grid.diamond:
        return button_travel(grid.across, grid.deep), button_travel(grid.down, grid.deep)
    slant = math.hypot(grid.across / 2, grid.down)
    longer = button_travel(slant, grid.deep) / slant if slant else 1.0
    return grid.across * longer, grid.down * longer


def button_growth(grid: ButtonGrid) -> tuple[float, float]:
    """Return what a panel grows across and up, in mm, for its buttons."""
    across, down = grid_travel(grid)
    return (grid.columns - 1) * (across - grid.across), (grid.rows - 1) * (down - grid.down)


def unbuttoned(kind: Kind, key: str) -> Restyled:
    """Take a panel's buttons away again; without any left, the furniture has none among its parts.

    Raises BadInput for a panel that has none.
    """
    part = kind.part(key)
    if part.buttons is None:
        raise BadInput("rows", 0, "a panel with buttons", words=f"The {part.name.lower()} has no buttons.")
    made = change_part(kind, key, buttons=None)
    if made.has("buttons") and not made.part("buttons").is_on_old and not any(p.buttons for p in made.panels):
        made = drop_part(made, "buttons")
    follows = (("trace", "its shape gets smaller by what the buttons took"),)
    return Restyled(made, f"no buttons on the {part.name.lower()}", follows, (key,))


def on_the_pair(kind: Kind, key: str, change: Callable[[Kind, str], Restyled]) -> Restyled:
    """Return a change of a panel made on its partner too, where it is one of a pair: the right one is the left one
    mirrored.
    """
    told = change(kind, key)
    partner = kind.part(key).mirror
    if partner is None or not kind.has(partner):
        return told
    return replace(
        told, kind=change(told.kind, partner).kind, words=f"{told.words} and its partner", touched=(key, partner)
    )


def channels_fit(across: float, apart: float, deep: float) -> None:
    """Raise BadInput for channels that are too narrow, fewer than two, or deeper than half their width; `across` is the
    panel, in mm.
    """
    if not NARROWEST_CHANNEL <= apart <= across / 2:
        raise BadInput(
            "apart",
            apart,
            f"{NARROWEST_CHANNEL:.0f} mm to {across / 2:.0f} mm, so that there are two channels at least",
        )
    if not 0 <= deep <= apart / 2:
        raise BadInput("deep", deep, f"0 to {apart / 2:.0f} mm, half of a channel's width")


def channelled_panel(kind: Kind, key: str, channels: Channels, *, size: tuple[float, float] | None = None) -> Restyled:
    """Stitch channels into a panel; its shape grows for them once there is one. Raises BadInput for lines that do not
    fit it.

    `size` is its shape's width and height in mm where it has one; else its usual measures are taken.
    """
    part = kind.part(key)
    width, height = size or (part.width, part.height)
    channels_fit(width if channels.upright else height, channels.apart, channels.deep)
    way = "up and down" if channels.upright else "across"
    more = button_travel(channels.apart, channels.deep) - channels.apart
    return Restyled(
        change_part(kind, key, channels=channels),
        f"channels {way} on the {part.name.lower()}",
        (
            ("trace", f"its shape grows by {more:.1f} mm for each channel"),
            ("pad", "foam or wadding in strips, or a thin pad stitched through"),
        ),
        (key,),
    )


def unchannelled(kind: Kind, key: str) -> Restyled:
    """Take a panel's channels away again. Raises BadInput for a panel that has none."""
    part = kind.part(key)
    if part.channels is None:
        raise BadInput("apart", 0, "a panel with channels", words=f"The {part.name.lower()} has no channels.")
    made = change_part(kind, key, channels=None)
    follows = (("trace", "its shape gets smaller by what the channels took"),)
    return Restyled(made, f"no channels on the {part.name.lower()}", follows, (key,))


def another_trim(kind: Kind, name: str) -> Restyled:
    """Trim it with something else, or with nothing: the old trims come off and are not made again, the new one goes on
    last.
    """
    old = [p for p in kind.parts if p.what == "trim" and p.is_on_new and ("welt" in p.key or "trim" in p.key)]
    made = kind
    for part in old:
        made = change_part(made, part.key, cover="old") if part.is_on_old else drop_part(made, part.key)
    words = f"{name.lower()} as trim" if name else "no trim"
    if name:
        made = add_part(made, f"{name}, new", what="trim", held=("glue",), cover="new")
        key = made.parts[-1].key
        over = tuple((p.key, key) for p in made.panels)
        made = replace(made, over=(*made.over, *over))
    names = " and ".join(p.name.lower() for p in old)
    follows = (
        ("trim", f"{words}: its length along every line"),
        *((("finish", f"{names} not made again"),) if names else ()),
    )
    return Restyled(made, words, follows, tuple(p.key for p in old))


def sawn_off(kind: Kind, key: str) -> Restyled:
    """Not make a part again: an ornament sawn off, a skirt left away. It still comes off, and stays off."""
    part = kind.part(key)
    if not part.is_on_old:
        raise BadInput("part", part.name, "a part that it came in with")
    made = change_part(kind, key, cover="old")
    if not made.panels:
        raise BadInput("part", part.name, "not the last panel of the cover")
    return Restyled(made, f"{part.name.lower()} not made again", (("finish", "one thing less goes back on"),), (key,))
