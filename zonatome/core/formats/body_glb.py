"""A body as glTF in one binary file (GLB), written by trimesh: metres, y up, each panel with its cloth as texture."""

from __future__ import annotations

from dataclasses import dataclass
from io import BytesIO
from typing import Any

import numpy as np
from PIL import Image, ImageDraw

from zonatome.core.body.cloth import Colour, Look, Piece, pile_shade, pile_ways
from zonatome.core.body.making import beneath
from zonatome.core.body.picture import NAIL, PLAIN, STUFFS, Dress, bare_colours
from zonatome.core.body.surfaces import box, tube
from zonatome.core.body.values import Body, Grid, Patch, Solid, Stuff, TrimLine, corners_of
from zonatome.core.body.views import USUAL_VIEW, view_named
from zonatome.core.lazily import Lazily

trimesh = Lazily("trimesh")
M = 0.001  # metres a mm
TILE = 512  # px of the longer side of one repeat's picture
BARE = "bare of "  # before a panel's key: what is seen where the panel is off
MOST_TILE = 1024  # px of the longer side of a photo of one repeat


@dataclass(frozen=True)
class ClothPhoto:
    """A photo of one repeat of a cloth, its top up: the bytes of an image file."""

    data: bytes


def body_glb(body: Body, dress: Dress, photos: dict[int, ClothPhoto] | None = None) -> bytes:
    """Return a body as a GLB file.

    Meshes bear the keys of their panels, and `bare of KEY` for what lies under each; solids and trims are meshes too.
    The nodes' `extras` say of each what it is. `photos` are of cloths, by the `id` of their `Look`.
    """
    scene = trimesh.Scene()
    made: dict[int, Any] = {}
    for patch in body.patches:
        piece = dress.pieces.get(patch.key)
        photo = (photos or {}).get(id(piece.look)) if piece else None
        is_off = patch.key in dress.off
        told = {"loose": patch.is_loose, "off": is_off}
        _add(scene, patch.key, _patch_mesh(patch, piece, photo, made), {"panel": patch.key, **told})
        _add(
            scene,
            BARE + patch.key,
            _bare_mesh(patch, dress.under.get(patch.key, patch.bare)),
            {"bare": patch.key, **told},
        )
    for number, solid in enumerate(body.solids):
        _add(
            scene,
            f"{solid.key} {number}",
            _plain_mesh(_flat_quads(solid), _colour_of(solid, dress), solid.stuff),
            {"solid": solid.key},
        )
    for number, trim in enumerate(body.lines):
        ground = dress.pieces[trim.panel].look.ground if trim.panel in dress.pieces else PLAIN
        colour = NAIL if trim.sort == "nails" else dress.trim or _deeper(ground)
        faces = _heads(trim) if trim.sort == "nails" else tube(trim.points, trim.thick, sides=8)
        loose = trim.panel in body.by_key and body.by_key[trim.panel].is_loose
        _add(
            scene,
            f"trim {number}",
            _plain_mesh((faces.reshape(-1, 3), _faces(len(faces)))),
            {"trim": trim.panel, "loose": loose, "off": trim.panel in dress.off},
            colour,
        )
    data = scene.export(file_type="glb")
    return bytes(data)


def _linear(colour: Colour) -> list[int]:
    """A colour as glTF's factors want it, which are of light and not of the eye: IEC 61966-2-1."""
    parts = [c / 255 for c in colour]
    light = [p / 12.92 if p <= 0.04045 else ((p + 0.055) / 1.055) ** 2.4 for p in parts]
    return [*(round(255 * p) for p in light), 255]


def _add(scene: Any, name: str, mesh: Any, extras: dict[str, Any], colour: Colour | None = None) -> None:
    if colour is not None:
        mesh.visual.material.baseColorFactor = _linear(colour)
    scene.add_geometry(mesh, node_name=name, geom_name=name, metadata=extras)
    mesh.metadata.update(extras)


def _heads(trim: TrimLine) -> Grid:
    """The heads of nails along a line: a small block each."""
    half = trim.thick / 2
    return np.concatenate([box(point - half, point + half) for point in trim.points])


def _room(points: Grid) -> Grid:
    """Places in glTF's room: metres, x to the right of who stands before it, y up, z toward them."""
    return np.asarray(np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1) * M)


def _quads(grid: Grid) -> tuple[Grid, Grid]:
    """Places and triangles of a grid, places shared, so that it is shaded smoothly."""
    rows, columns = grid.shape[:2]
    n = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = n[:-1, :-1].ravel(), n[:-1, 1:].ravel(), n[1:, 1:].ravel(), n[1:, :-1].ravel()
    return grid.reshape(-1, grid.shape[2]), np.concatenate([np.stack([a, b, c], axis=1), np.stack([a, c, d], axis=1)])


def _faces(count: int) -> Grid:
    first = 4 * np.arange(count)
    return np.concatenate(
        [np.stack([first, first + 1, first + 2], axis=1), np.stack([first, first + 2, first + 3], axis=1)]
    )


def _flat_quads(solid: Solid) -> tuple[Grid, Grid]:
    return solid.faces.reshape(-1, 3), _faces(len(solid.faces))


def _colour_of(solid: Solid, dress: Dress) -> Colour:
    worn = dress.pieces.get(solid.like)
    return worn.look.ground if worn else STUFFS[solid.stuff]


def _plain_mesh(quads: tuple[Grid, Grid], colour: Colour = PLAIN, stuff: Stuff = "bare") -> Any:
    material = trimesh.visual.material.PBRMaterial(
        baseColorFactor=_linear(colour), roughnessFactor=0.45 if stuff in ("metal", "plastic") else 0.8,
        metallicFactor=0.5 if stuff == "metal" else 0.0, doubleSided=True,
    )  # fmt: skip
    places, faces = quads
    visual = trimesh.visual.TextureVisuals(uv=np.zeros((len(places), 2)), material=material)
    return trimesh.Trimesh(vertices=_room(places), faces=faces, visual=visual, process=False)


def _bare_mesh(patch: Patch, stuff: Stuff) -> Any:
    """What is seen where a panel is off; straps of webbing cell by cell."""
    points = beneath(patch.points)
    if stuff != "webbing":
        return _plain_mesh(_quads(points), STUFFS[stuff])
    cells = corners_of(points)
    mesh = _plain_mesh((cells.reshape(-1, 3), _faces(len(cells))), (255, 255, 255))
    shades = np.array(
        [_linear((int(r), int(g), int(b))) for r, g, b in np.clip(bare_colours(patch, stuff), 0, 255)], np.uint8
    )
    mesh.visual.vertex_attributes["color"] = np.repeat(shades, 4, axis=0)
    return mesh


def _patch_mesh(patch: Patch, piece: Piece | None, photo: ClothPhoto | None, made: dict[int, Any]) -> Any:
    """A panel: its places, its cloth's texture where one repeat comes again and again, how its pile shades it."""
    if piece is None:
        return _plain_mesh(_quads(patch.points))
    places, faces = _quads(patch.points)
    look = piece.look
    material = made.setdefault(id(look), _material(look, photo))
    uv = np.zeros((len(places), 2))
    if look.tile is not None:
        on_roll = piece.on_roll(patch.flat.reshape(-1, 2))
        along = (on_roll[:, 0] - look.tile.x) / look.tile.width
        across = (on_roll[:, 1] - look.tile.y) / look.tile.height
        # the picture's top is toward the squared end, its left side at the roll's right as one looks up it
        uv = np.stack([across, 1 - along], axis=1)
    visual = trimesh.visual.TextureVisuals(uv=uv, material=material)
    shade = np.ones(len(places))
    if look.has_pile:
        of_cells = pile_shade(pile_ways(patch, piece), view_named(USUAL_VIEW).toward)
        shade = _at_corners(of_cells, patch.points.shape[0], patch.points.shape[1])
    level = np.clip(np.round(shade * 220), 0, 255).astype(np.uint8)
    visual.vertex_attributes["color"] = np.stack([level, level, level, np.full_like(level, 255)], axis=1)
    return trimesh.Trimesh(vertices=_room(places), faces=faces, visual=visual, process=False)


def _at_corners(of_cells: Grid, rows: int, columns: int) -> Grid:
    """What cells have, at the places between them: the mean of those that meet there."""
    grid = np.pad(of_cells.reshape(rows - 1, columns - 1), 1, mode="edge")
    return np.asarray((grid[:-1, :-1] + grid[1:, :-1] + grid[:-1, 1:] + grid[1:, 1:]) / 4).ravel()


def _material(look: Look, photo: ClothPhoto | None) -> Any:
    texture = tile_picture(look, photo)
    return trimesh.visual.material.PBRMaterial(
        baseColorTexture=texture,
        baseColorFactor=None if texture else _linear(look.ground),
        roughnessFactor=0.92,
        metallicFactor=0.0,
        doubleSided=True,
    )


def tile_picture(look: Look, photo: ClothPhoto | None = None) -> Image.Image | None:
    """Return the picture of one tile of a cloth's pattern, its top toward the squared end; None of a plain one."""
    tile = look.tile
    if tile is None or look.repeat is None:
        return None
    scale = TILE / max(tile.width, tile.height)
    wide, high = max(8, round(tile.height * scale)), max(8, round(tile.width * scale))
    made = Image.new("RGB", (wide, high), look.ground)
    if photo is not None:
        return _tile_of_photo(look, photo, wide, high)
    draw = ImageDraw.Draw(made)
    for figure in tile.figures:
        draw.polygon([(y / tile.height * wide, x / tile.width * high) for x, y in figure], fill=look.figure)
    return made


def _tile_of_photo(look: Look, photo: ClothPhoto, wide: int, high: int) -> Image.Image:
    """One repeat's photo laid as the tile has it: once, or twice with the second column dropped."""
    with Image.open(BytesIO(photo.data)) as opened:
        opened.draft("RGB", (MOST_TILE, MOST_TILE))
        one = opened.convert("RGB")
    made = Image.new("RGB", (wide, high))
    drop = look.repeat.drop if look.repeat else 0.0
    across = wide // 2 if drop else wide
    cell = one.resize((across, high))
    made.paste(cell, (0, 0))
    if drop:
        down = round(drop * high)
        for k in (down, down - high):
            made.paste(cell.resize((wide - across, high)), (across, k))
    return made


def _deeper(colour: Colour) -> Colour:
    return (round(colour[0] * 0.72), round(colour[1] * 0.72), round(colour[2] * 0.72))


MEAN = 14  # colours each way that a photo of one repeat is drawn with, where it is drawn with faces


def photo_colours(data: bytes) -> tuple[tuple[Colour, ...], ...]:
    """Return the mean colours of a photo of one repeat, rows from its top: see `Look.photo`."""
    with Image.open(BytesIO(data)) as opened:
        small = opened.convert("RGB").resize((MEAN, MEAN), Image.Resampling.BOX)
    pixels = np.asarray(small)
    return tuple(tuple((int(r), int(g), int(b)) for r, g, b in row) for row in pixels)
