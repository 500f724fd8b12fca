"""A picture of a body: flat faces in the order in which they are painted, each with its colour."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from zonatome.core.body.cloth import Colour, Piece, pile_shade, pile_ways
from zonatome.core.body.figures import Numbers, begins_of, figures_on
from zonatome.core.body.making import beneath
from zonatome.core.body.order import Quads, hidden_behind, put_in_order
from zonatome.core.body.values import Body, Curve, Grid, Patch, Solid, Stuff, TrimLine, corners_of, way_out
from zonatome.core.body.views import Eye, View, eye_for

STUFFS: dict[Stuff, Colour] = {
    "wood": (150, 104, 62),
    "metal": (138, 142, 148),
    "plastic": (62, 64, 70),
    "board": (196, 168, 124),
    "bare": (203, 184, 148),
    "webbing": (186, 156, 108),
    "foam": (232, 214, 150),
    "wadding": (244, 242, 236),
}
BETWEEN_STRAPS: Colour = (98, 74, 52)  # what is dark between the straps of webbing
PLAIN: Colour = (214, 203, 184)
TONES: dict[str, Colour] = {"next": (236, 196, 82), "done": (132, 164, 112), "wrong": (196, 88, 70)}
LEVELS, FEW_LEVELS = 96, 30  # how many shades there are between dark and light; on a small picture
LONGEST_FACE = 130.0  # mm: larger faces are parted, so that each is well before or behind its neighbours
LINE = (58, 44, 38)
NAIL: Colour = (196, 158, 88)  # brass
SIDES = ((0,), (slice(None), -1), (-1,), (slice(None), 0))  # of a grid: its first row, last column, and so on
EDGE = 2.2  # mm: how thick the line is where a panel ends
BIAS = 14.0  # mm toward the eye that a line is taken before the face that it lies on


@dataclass(frozen=True)
class Face:
    """A flat face or, with a `stroke` in mm, a line: places on the picture in mm, y up; its colour; the panel it is of;
    whether it is a dot, or a figure of a pattern on another face.
    """

    points: Grid
    colour: Colour
    key: str = ""
    stroke: float = 0.0
    is_dot: bool = False
    is_figure: bool = False


@dataclass(frozen=True)
class Dress:
    """What the furniture wears: pieces of cloth by panel, panels that are off and what is seen `under` them where that
    is not what is usually there, panels in a tone of `TONES`; `trim` is the colour of its welts. On a small picture
    patterns are plainer.
    """

    pieces: Mapping[str, Piece] = field(default_factory=dict)
    off: frozenset[str] = frozenset()
    under: Mapping[str, Stuff] = field(default_factory=dict)
    tones: Mapping[str, str] = field(default_factory=dict)
    trim: Colour | None = None
    is_small: bool = False


@dataclass(frozen=True)
class Picture:
    """The faces of a body seen from a view, the farthest first, and the bounds of all: least x, least y, most x, most
    y.
    """

    faces: tuple[Face, ...]
    bounds: tuple[float, float, float, float]


def picture_of(body: Body, view: View, dress: Dress) -> Picture:
    """Return the picture of a body as it is dressed, from a view: hidden faces lie under those before them."""
    shown = body.loosened() if view.is_loosened else body
    painter = _Painter(eye_for(shown, view), dress)
    painter.solids(shown.solids)
    for patch in shown.patches:
        painter.patch(patch)
    painter.patterns()
    for trim in shown.lines:
        if trim.panel not in dress.off:
            painter.trim(trim)
    return painter.finished()


@dataclass(frozen=True)
class _Batch:
    """Faces that were found together, in the room: the corners of all one after the other and how many each has; the
    place by which each is taken to be as far off as it is (without, by its nearest corner), and how much nearer; their
    colours, and their ways out where light falls on them; their panels; what they have in common.
    """

    points: Grid
    sizes: Numbers
    places: Grid | None
    colours: Grid
    out: Grid | None
    keys: list[str]
    nearer: float = 0.0
    stroke: float = 0.0
    is_dot: bool = False
    is_figure: bool = False
    is_solid: bool = False

    @property
    def is_cell(self) -> bool:
        """Whether it is of the surfaces themselves, not of what is drawn on them."""
        return self.out is not None and not self.is_figure


class _Painter:
    """Collects faces in the room; at the end they are seen, lit and put in order all at once."""

    def __init__(self, eye: Eye, dress: Dress) -> None:
        self.eye, self.dress = eye, dress
        right, up = eye.view.axes
        light = 0.55 * up + 0.62 * eye.view.toward - 0.42 * right
        self.light: Curve = light / np.linalg.norm(light)
        self.batches: list[_Batch] = []
        self.patterned: list[tuple[Patch, Piece, NDArray[np.bool_], Grid]] = []

    def lit(self, colour: Grid, out: Grid) -> Grid:
        """Colours (n, 3) of faces in the light, in as many shades as there are."""
        bright = 0.66 + 0.40 * np.clip(out @ self.light, -0.25, 1)
        shaded = np.clip(colour * bright[:, None], 0, 255)
        most = shaded.max(axis=1)
        step = 255 / (FEW_LEVELS if self.dress.is_small else LEVELS)
        level = np.round(most / step) * step
        return np.asarray(np.clip(shaded * (level / np.maximum(most, 1))[:, None], 0, 255))

    def facing(self, middles: Grid, out: Grid) -> NDArray[np.bool_]:
        """Which cells turn their face to the eye, by their middles and their ways out."""
        return np.asarray(np.vecdot(out, self.eye.place - middles) > 0)

    def quads(
        self, quads: Grid, middles: Grid, out: Grid, colours: Grid, keys: list[str], *, is_solid: bool = False
    ) -> None:
        """Quads that face the eye, their middles, ways out, colours and panels."""
        fours = np.full(len(quads), 4)
        self.batches.append(_Batch(quads.reshape(-1, 3), fours, middles, colours, out, keys, is_solid=is_solid))

    def line(self, points: Grid, place: Curve, colour: Colour, key: str) -> None:
        """A line where a panel ends, before a place in it."""
        shade, size = np.array([colour], float), np.array([len(points)])
        self.batches.append(_Batch(points, size, place[None], shade, None, [key], BIAS, EDGE))

    def solids(self, solids: tuple[Solid, ...]) -> None:
        """What is no cloth, or has the cloth of a panel go on over it."""
        if not solids:
            return
        looks = [self.dress.pieces.get(s.like) if s.like not in self.dress.off else None for s in solids]
        stuffs = [worn.look.ground if worn else STUFFS[s.stuff] for s, worn in zip(solids, looks, strict=True)]
        of = np.repeat(np.arange(len(solids)), [len(s.faces) for s in solids])
        faces = np.concatenate([s.faces for s in solids])
        facing = self.facing(faces.mean(axis=1), way_out(faces))
        if facing.any():
            quads, of = _parted(faces[facing], of[facing])
            keys = [solids[n].like for n in of.tolist()]
            self.quads(quads, quads.mean(axis=1), way_out(quads), np.array(stuffs, float)[of], keys, is_solid=True)

    def patch(self, patch: Patch) -> None:
        """A panel: its cloth, or what is seen where it is off; lines where it ends."""
        facing = self.facing(patch.middles, patch.normals)
        tone = self.dress.tones.get(patch.key)
        if patch.key in self.dress.off:
            self.bare(patch, tone, facing)
            return
        if not facing.any():
            return
        piece = self.dress.pieces.get(patch.key)
        ground = TONES[tone] if tone else piece.look.ground if piece else PLAIN
        colours: Grid = np.broadcast_to(np.array(ground, float), (len(facing), 3))
        if piece is not None and not tone:
            if piece.look.photo:
                colours = _from_photo(patch, piece)
            if piece.look.has_pile:
                colours = colours * pile_shade(pile_ways(patch, piece), self.eye.view.toward)[:, None]
            if piece.look.repeat is not None and not piece.look.photo:
                self.patterned.append((patch, piece, facing, colours))
        self.quads(
            patch.cells[facing],
            patch.middles[facing],
            patch.normals[facing],
            colours[facing],
            [patch.key] * int(facing.sum()),
        )
        self.outline(patch, patch.points, facing, _darker(ground))

    def bare(self, patch: Patch, tone: str | None, facing: NDArray[np.bool_]) -> None:
        """A panel's place when it is off."""
        stuff = self.dress.under.get(patch.key, patch.bare)
        colour = TONES[tone] if tone else STUFFS[stuff]
        points = beneath(patch.points)
        cells = corners_of(points)
        middles, out = cells.mean(axis=1), way_out(cells)
        shown = self.facing(middles, out)
        colours = np.broadcast_to(np.array(colour, float), (len(cells), 3)) if tone else bare_colours(patch, stuff)
        if shown.any():
            self.quads(cells[shown], middles[shown], out[shown], colours[shown], [patch.key] * int(shown.sum()))
        if not self.dress.is_small:
            self.outline(patch, points, facing, _darker(colour))

    def patterns(self) -> None:
        """The figures of the cloths on the panels that are seen."""
        laid = [(patch, piece) for patch, piece, _, _ in self.patterned]
        for figures in figures_on(laid, is_small=self.dress.is_small):
            begins = begins_of(np.array([len(facing) for _, _, facing, _ in self.patterned]))
            cells = begins[figures.panels] + figures.cells
            seen = np.concatenate([facing for _, _, facing, _ in self.patterned])[cells]
            if not seen.any():
                continue
            cells, panels = cells[seen], figures.panels[seen]
            ratios = np.array([np.array(p.look.figure) / np.maximum(p.look.ground, 1) for _, p in laid])
            grounds = np.concatenate([colours for *_, colours in self.patterned])
            out = np.concatenate([patch.normals for patch, _ in laid])
            self.batches.append(
                _Batch(
                    figures.there[np.repeat(seen, figures.sizes)],
                    figures.sizes[seen],
                    None,
                    np.clip(grounds[cells] * ratios[panels], 0, 255),
                    out[cells],
                    [laid[n][0].key for n in panels.tolist()],
                    BIAS,
                    is_figure=True,
                )
            )

    def outline(self, patch: Patch, points: Grid, facing: NDArray[np.bool_], colour: Colour) -> None:
        """Lines where a panel ends, on the side of it that is seen, each as far off as the cell that it ends."""
        if not facing.any():
            return
        faces = facing.reshape(points.shape[0] - 1, points.shape[1] - 1)
        corners = points[:-1, :-1], points[1:, 1:]
        for side in SIDES:
            toward = faces[side]
            if not toward.any():
                continue
            edge, beside = points[side], (corners[0][side] + corners[1][side]) / 2
            step = len(toward) if self.dress.is_small else 1
            for k in range(0, len(toward), step):
                if toward[k : k + step].any():
                    self.line(edge[k : k + step + 1], beside[k : k + step].mean(axis=0), colour, patch.key)

    def trim(self, trim: TrimLine) -> None:
        """A trim along its line, nails one by one, or a button."""
        worn = self.dress.pieces.get(trim.panel)
        colour = NAIL if trim.sort == "nails" else self.dress.trim or _darker(worn.look.ground if worn else PLAIN)
        points, many = trim.points, len(trim.points)
        shade = np.array([colour], float)
        if trim.sort == "buttons":
            if float((points[-1] - points[0]) @ (self.eye.place - points[0])) > 0:
                one, at = np.array([1]), points[-1:]
                self.batches.append(_Batch(at, one, at, shade, None, [trim.panel], 3 * BIAS, trim.thick, is_dot=True))
        elif trim.sort == "nails":
            ones, shades = np.full(many, 1), np.repeat(shade, many, axis=0)
            self.batches.append(
                _Batch(points, ones, points, shades, None, [trim.panel] * many, BIAS, trim.thick, is_dot=True)
            )
        elif many > 1:
            steps = np.stack([points[:-1], points[1:]], axis=1)
            twos, shades = np.full(many - 1, 2), np.repeat(shade, many - 1, axis=0)
            self.batches.append(
                _Batch(
                    steps.reshape(-1, 3),
                    twos,
                    steps.mean(axis=1),
                    shades,
                    None,
                    [trim.panel] * (many - 1),
                    BIAS,
                    trim.thick,
                )
            )

    def finished(self) -> Picture:
        """The picture, farthest first."""
        if not self.batches:
            return Picture((), (0.0, 0.0, 0.0, 0.0))
        places, depth = self.eye.seen(np.concatenate([batch.points for batch in self.batches]))
        colours = self._colours()
        order = np.argsort(-self._how_far(places, depth), kind="stable")
        faces, begins, at = [], 0, 0
        for batch in self.batches:
            for key, size in zip(batch.keys, batch.sizes.tolist(), strict=True):
                points = places[begins : begins + size]
                faces.append(Face(points, colours[at], key, batch.stroke, batch.is_dot, batch.is_figure))
                begins, at = begins + size, at + 1
        (x0, y0), (x1, y1) = places.min(axis=0), places.max(axis=0)
        return Picture(tuple(faces[n] for n in order.tolist()), (float(x0), float(y0), float(x1), float(y1)))

    def _colours(self) -> list[Colour]:
        """The colours of all faces: lit, of those that have a way out."""
        nowhere = [batch.out if batch.out is not None else np.zeros((len(batch.sizes), 3)) for batch in self.batches]
        is_lit = np.repeat([batch.out is not None for batch in self.batches], [len(b.sizes) for b in self.batches])
        told = np.concatenate([batch.colours for batch in self.batches])
        shades = np.where(is_lit[:, None], self.lit(told, np.concatenate(nowhere)), told)
        return [(r, g, b) for r, g, b in shades.astype(int).tolist()]

    def _how_far(self, places: Grid, depth: Grid) -> Grid:
        """How far off each face is taken to be, by where its corners are seen and how far off each is."""
        found, starts, begins, cells = [], [], 0, []
        for batch in self.batches:
            starts.append(begins)
            ends = begins + len(batch.points)
            if batch.places is None:
                far = np.minimum.reduceat(depth[begins:ends], begins_of(batch.sizes))
            else:
                far = self.eye.how_far(batch.places)
            found.append(far - batch.nearer)
            if batch.is_cell:
                cells.append(np.arange(begins, ends))
            begins = ends
        if not cells:
            return np.concatenate(found)
        corner = np.concatenate(cells)
        batches = [batch for batch in self.batches if batch.is_cell]
        quads = Quads(
            np.concatenate([batch.points.reshape(-1, 4, 3) for batch in batches]),
            np.concatenate([batch.out for batch in batches if batch.out is not None]),
            places[corner].reshape(-1, 4, 2),
            depth[corner].reshape(-1, 4),
            # at a thumb's size one sees where wood and cloth are in the wrong order, and no more
            np.repeat([b.is_solid for b in batches], [len(b.sizes) for b in batches]) if self.dress.is_small else None,
        )
        before = np.concatenate([far for far, batch in zip(found, self.batches, strict=True) if batch.is_cell])
        after = put_in_order(quads, before, self.eye.place)
        begins = 0
        for n, batch in enumerate(self.batches):
            if batch.is_cell:
                found[n] = after[begins : begins + len(batch.sizes)]
                begins += len(batch.sizes)
        lines = [n for n, batch in enumerate(self.batches) if batch.stroke]
        if lines and not self.dress.is_small:
            chosen = np.concatenate([np.arange(starts[n], starts[n] + len(self.batches[n].points)) for n in lines])
            at = np.concatenate([self.batches[n].points for n in lines])
            hidden = hidden_behind(quads, after, at, places[chosen], self.eye.place)
            sizes = np.concatenate([self.batches[n].sizes for n in lines])
            least = np.maximum.reduceat(hidden, begins_of(sizes))
            parts = np.split(least, np.cumsum([len(found[n]) for n in lines])[:-1])
            for n, far in zip(lines, parts, strict=True):
                found[n] = np.maximum(found[n], far)
        return np.concatenate(found)


def bare_colours(patch: Patch, stuff: Stuff) -> Grid:
    """Return the colour of every cell of a panel's place when it is off, (cells, 3): of webbing straps with gaps."""
    rows, columns = patch.points.shape[0] - 1, patch.points.shape[1] - 1
    made = np.broadcast_to(np.array(STUFFS[stuff], float), (rows, columns, 3)).copy()
    if stuff == "webbing":
        made[1::2, 1::2] = BETWEEN_STRAPS
        made[::2, ::2] *= 1.08  # where two cross they stand a little higher
    return made.reshape(-1, 3)


def _darker(colour: Colour) -> Colour:
    return (
        round(colour[0] * 0.55 + LINE[0] * 0.1),
        round(colour[1] * 0.55 + LINE[1] * 0.1),
        round(colour[2] * 0.55 + LINE[2] * 0.1),
    )


def _parted(quads: Grid, of: Numbers) -> tuple[Grid, Numbers]:
    """Faces so parted that none is longer than LONGEST_FACE each way; and what each is of."""
    sides = quads[:, [1, 2, 3, 0]] - quads
    long = np.sqrt((sides * sides).sum(axis=2))
    parts = np.maximum(np.ceil(np.maximum(long[:, :2], long[:, 2:]) / LONGEST_FACE), 1).astype(int)
    whole = (parts == 1).all(axis=1)
    made, kept = [quads[whole]], [of[whole]]
    for n, m in sorted({(n, m) for n, m in parts[~whole].tolist()}):
        chosen = (parts == (n, m)).all(axis=1)
        a, b, c, d = (quads[chosen][:, None, None, k] for k in range(4))
        u, v = np.linspace(0, 1, n + 1)[None, :, None], np.linspace(0, 1, m + 1)[:, None, None]
        grid = (a * (1 - u) + b * u) * (1 - v) + (d * (1 - u) + c * u) * v
        made += [corners_of(each) for each in grid]
        kept.append(np.repeat(of[chosen], n * m))
    return np.concatenate(made), np.concatenate(kept)


def _from_photo(patch: Patch, piece: Piece) -> Grid:
    """The colour of the cloth's own photo in the middle of every cell: (cells, 3)."""
    photo = np.array(piece.look.photo, float)
    repeat = piece.look.repeat
    at = piece.on_roll(patch.flat_cells.mean(axis=1))
    along = (repeat.along if repeat else None) or 300.0
    across = (repeat.across if repeat else None) or 300.0
    x0, y0 = repeat.origin if repeat else (0.0, 0.0)
    column = (at[:, 1] - y0) / across + 0.5
    step = np.floor(column)
    row = (at[:, 0] - x0) / along + 0.5 - (repeat.drop if repeat else 0.0) * step
    down, aside = np.floor((row % 1) * photo.shape[0]).astype(int), np.floor((column % 1) * photo.shape[1]).astype(int)
    return np.asarray(photo[np.clip(down, 0, photo.shape[0] - 1), np.clip(aside, 0, photo.shape[1] - 1)])
