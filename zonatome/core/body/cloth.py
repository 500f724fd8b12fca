"""The cloth on a body: its colours, its pattern, where each panel's piece lies on the roll. Lengths in mm."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zonatome.core.body.values import Grid, Patch
from zonatome.core.errors import BadInput
from zonatome.core.lay.pattern.centring import PatternTile, tile_of
from zonatome.core.lay.request import Repeat
from zonatome.core.lay.table.on_a_panel import Affine, moved_by

Colour = tuple[int, int, int]
HEX = re.compile(r"#[0-9a-fA-F]{6}")
PILE = 0.2  # how much lighter or darker pile is, seen along it or against it


def colour_of(code: str) -> Colour:
    """Return the red, green and blue of a colour written `#rrggbb`; BadInput for anything else.

    >>> colour_of("#8c4a5a")
    (140, 74, 90)
    """
    if not HEX.fullmatch(code):
        raise BadInput("colour", code[:20], "a colour as #rrggbb")
    return int(code[1:3], 16), int(code[3:5], 16), int(code[5:7], 16)


def figure_on(ground: Colour) -> Colour:
    """Return the colour of a pattern's figures on a ground: pale on a dark one, deep on a pale one."""
    bright = 0.3 * ground[0] + 0.59 * ground[1] + 0.11 * ground[2]
    toward, share = ((246, 236, 214), 0.66) if bright < 140 else ((52, 58, 74), 0.5)
    return tuple(round(g + (t - g) * share) for g, t in zip(ground, toward, strict=True))  # type: ignore[return-value]


@dataclass(frozen=True)
class Look:
    """How a cloth looks: its ground, its repeat where it has one, whether its pile or motif runs one way; the mean
    colours of one repeat's photo, rows from its top, where there is one.
    """

    ground: Colour
    repeat: Repeat | None = None
    has_pile: bool = False
    photo: tuple[tuple[Colour, ...], ...] = ()

    @property
    def figure(self) -> Colour:
        """The colour of its figures."""
        return figure_on(self.ground)

    @cached_property
    def tile(self) -> PatternTile | None:
        """One tile of its pattern; None of a plain one."""
        return tile_of(self.repeat) if self.repeat else None


@dataclass(frozen=True)
class Piece:
    """A panel's piece of cloth: which look, and how the cloth's frame lies on the finished panel about its middle."""

    look: Look
    onto: Affine

    def on_roll(self, flat: Grid) -> Grid:
        """Return where places of the finished panel lie on the cloth: (…, 2)."""
        a, b, c, d, e, f = self.onto
        whole = a * d - b * c
        x, y = flat[..., 0] - e, flat[..., 1] - f
        return np.stack([(d * x - c * y) / whole, (a * y - b * x) / whole], axis=-1)


def usual_piece(look: Look) -> Piece:
    """Return a panel's piece before it is laid: up the roll, a motif on its middle.

    >>> usual_piece(Look((0, 0, 0))).onto
    (0.0, -1.0, 1.0, 0.0, -0.0, 0.0)
    """
    x, y = look.repeat.origin if look.repeat else (0.0, 0.0)
    return Piece(look, (0.0, -1.0, 1.0, 0.0, -y, x))


def place_of(patch: Patch, piece: Piece, on_roll: tuple[float, float]) -> Grid:
    """Return where a place of the cloth lies on the furniture: (3,). What is beyond the panel's edge is carried on."""
    return patch.at(*moved_by(piece.onto, on_roll))[0]


def pile_ways(patch: Patch, piece: Piece) -> Grid:
    """Return the way in which pile runs on every cell of a patch, of length 1: down the roll, away from its squared
    end.
    """
    along = np.array([piece.onto[0], piece.onto[1]])
    flat, there = patch.flat_cells, patch.cells
    ways = np.empty((len(flat), 3))
    across_flat, up_flat = flat[:, 1] - flat[:, 0], flat[:, 3] - flat[:, 0]
    across, up = there[:, 1] - there[:, 0], there[:, 3] - there[:, 0]
    scale = across_flat[:, 0] * up_flat[:, 1] - across_flat[:, 1] * up_flat[:, 0]
    safe = np.where(np.abs(scale) > 1e-6, scale, 1.0)
    u = (along[0] * up_flat[:, 1] - along[1] * up_flat[:, 0]) / safe
    v = (across_flat[:, 0] * along[1] - across_flat[:, 1] * along[0]) / safe
    ways = u[:, None] * across + v[:, None] * up
    return np.asarray(ways / np.maximum(np.linalg.norm(ways, axis=1, keepdims=True), 1e-9))


def pile_shade(ways: Grid, toward: Grid) -> Grid:
    """Return by how much pile is lighter (above 1) or darker seen from a way, in the light from above: lighter where it
    runs away from the eye and down, darker where one looks into it.
    """
    light = np.asarray(toward) + np.array([0.0, 0.0, 0.9])
    return np.asarray(1 - PILE * (ways @ (light / np.linalg.norm(light))))
