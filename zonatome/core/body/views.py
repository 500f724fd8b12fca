"""From where the furniture is looked at, and where its places then are on the picture. Lengths in mm."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from zonatome.core.body.values import Body, Curve, Grid
from zonatome.core.errors import BadInput


@dataclass(frozen=True)
class View:
    """A way to look at it: turned so many degrees to the sitter's left from the front, so high over level; whether what
    lies loose is put down before it first.
    """

    key: str
    name: str
    turn_degrees: float
    high_degrees: float
    is_loosened: bool = False

    @cached_property
    def toward(self) -> Curve:
        """The way from the furniture to who looks, of length 1."""
        turn, high = math.radians(self.turn_degrees), math.radians(self.high_degrees)
        return np.array([math.sin(turn) * math.cos(high), -math.cos(turn) * math.cos(high), math.sin(high)])

    @cached_property
    def axes(self) -> tuple[Curve, Curve]:
        """To the right and up on the picture, as ways in the room."""
        turn = math.radians(self.turn_degrees)
        right = np.array([math.cos(turn), math.sin(turn), 0.0])
        return right, np.cross(self.toward, right)


VIEWS: tuple[View, ...] = (
    View("front", "from the front", 0, 14),
    View("front_left", "from the front, the sitter’s left", 38, 22),
    View("left", "the sitter’s left side", 90, 14),
    View("back", "from behind", 180, 14),
    View("right", "the sitter’s right side", -90, 14),
    View("front_right", "from the front, the sitter’s right", -38, 22),
    View("above", "from above, the cushion put down", -24, 58, is_loosened=True),
    View("below", "from below, the cushion put down", -28, -42, is_loosened=True),
)
USUAL_VIEW = "front_right"
AWAY = 4.2  # times the furniture's size: how far off the eye is


def view_named(key: str) -> View:
    """Return a set view; BadInput names the eight there are."""
    for view in VIEWS:
        if view.key == key:
            return view
    raise BadInput("view", key[:40], "one of " + ", ".join(v.key for v in VIEWS))


@dataclass(frozen=True)
class Eye:
    """Who looks at a body from a view: places become those of a picture, x right, y up, and how far off each is."""

    middle: Curve
    far: float
    view: View

    def seen(self, places: Grid) -> tuple[Grid, Grid]:
        """Return where places are on the picture, in mm at the middle's distance, and how far off: (…, 2) and (…)."""
        right, up = self.view.axes
        off, depth = places - self.middle, self.how_far(places)
        scale = self.far / np.maximum(depth, self.far * 0.05)
        return np.stack([off @ right * scale, off @ up * scale], axis=-1), depth

    def how_far(self, places: Grid) -> Grid:
        """Return how far off places are: (…)."""
        return np.asarray(self.far - (places - self.middle) @ self.view.toward)

    @property
    def place(self) -> Curve:
        """Where the eye is."""
        return np.asarray(self.middle + self.view.toward * self.far)


def eye_for(body: Body, view: View) -> Eye:
    """Return the eye that looks at a body's middle."""
    low, high = body.bounds
    return Eye((low + high) / 2, AWAY * float(np.linalg.norm(high - low)), view)


def best_view(body: Body, key: str) -> View:
    """Return the set view that shows most of a panel: by the area that faces who looks, the usual views first.

    Raises BadInput for a panel that the body has not.
    """
    if key not in body.by_key:
        raise BadInput("panel", key[:60], "one of " + ", ".join(body.by_key))
    return max(VIEWS, key=lambda view: (round(in_sight(body, key, view), 2), view.key == USUAL_VIEW))


def in_sight(body: Body, key: str, view: View) -> float:
    """Return how much of a panel is seen from a view: the share of its cells that face the eye with nothing before
    them, each counted by how squarely it is seen.
    """
    shown = body.loosened() if view.is_loosened else body
    return float(squarely_seen(shown, key, eye_for(shown, view)).mean())


def squarely_seen(body: Body, key: str, eye: Eye) -> Grid:
    """Return of every cell of a panel how squarely it is seen, 0 to 1; 0 of one that faces away or has something before
    it.

    Source: rays from the middle of every cell toward the eye against all other faces, Möller and Trumbore's test.
    """
    patch = body.by_key[key]
    middles, out = patch.cells.mean(axis=1), patch.normals
    way = eye.place - middles
    way /= np.linalg.norm(way, axis=1, keepdims=True)
    squarely = np.einsum("ij,ij->i", out, way)
    faces = squarely > 0.05
    found = np.zeros(len(middles))
    if faces.any():
        others = [p.cells for p in body.patches if p.key != key] + [s.faces for s in body.solids]
        blocked = _is_blocked(middles[faces] + out[faces] * 4.0, way[faces], np.concatenate(others))
        found[faces] = squarely[faces] * np.where(blocked, 0.0, 1.0)
    return found


def _is_blocked(places: Grid, ways: Grid, quads: Grid) -> Grid:
    """Whether something stands before each place: (places,) of truth."""
    triangles = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]])
    a, ab, ac = triangles[:, 0], triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    found = np.zeros(len(places), dtype=bool)
    for n, (at, way) in enumerate(zip(places, ways, strict=True)):
        p = np.cross(way, ac)
        scale = np.einsum("ij,ij->i", ab, p)
        safe = np.where(np.abs(scale) > 1e-9, scale, np.inf)
        off = at - a
        u = np.einsum("ij,ij->i", off, p) / safe
        q = np.cross(off, ab)
        v = q @ way / safe
        t = np.einsum("ij,ij->i", ac, q) / safe
        found[n] = bool(((u >= 0) & (v >= 0) & (u + v <= 1) & (t > 6.0)).any())
    return found
