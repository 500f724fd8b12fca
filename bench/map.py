"""Draw the rooms of the house and the arrows between them, from the code itself: docs/map.svg.

    python -m bench.map [docs/map.svg]

The order of the rooms is the one that `lint-imports` holds (`tool.importlinter` in pyproject.toml); an arrow is as
wide as imports are many. Pages may look up (they show what other rooms know): those arrows are left out.
"""

from __future__ import annotations

import math
import sys
import tomllib
from collections import Counter
from pathlib import Path
from xml.sax.saxutils import escape

import grimp

ROOT = Path(__file__).resolve().parents[1]
WINGS = (
    ("core: the rules of the work", "the core: a step", 40.0),
    ("core.lay: from the kernel to the table", "the lay:", 480.0),
    ("web: what is shown and remembered", "the web: what is stored", 920.0),
)
ROOM_WIDTH = 116.0
ROOM_HEIGHT = 30.0
GAP = 10.0
ROW = 54.0
TOP = 96.0
COLUMN = 380.0
INK = "#20252c"
PAPER = "#fbf8f2"
LINE = "#8a7a63"
WARM = "#b4552d"

Room = tuple[float, float, float]  # x of the middle, y of the top, width


def layers_of(name: str) -> list[list[str]]:
    """Return the layers of a contract, the uppermost first: the modules that stand side by side in each."""
    settings = tomllib.loads((ROOT / "pyproject.toml").read_text())
    contracts = settings["tool"]["importlinter"]["contracts"]
    contract = next(c for c in contracts if c["name"].startswith(name))
    return [[room.strip() for room in layer.split("|")] for layer in contract["layers"]]


def room_of(module: str, rooms: list[str]) -> str:
    """Return the room in which a module stands, empty where in none of them."""
    return max((r for r in rooms if module == r or module.startswith(f"{r}.")), key=len, default="")


def is_page(module: str) -> bool:
    """Whether a module shows pages or names their addresses."""
    return ".views" in module or module.endswith(("urls", "phone", "try_out"))


def arrows_between(graph: grimp.ImportGraph, rooms: list[str]) -> Counter[tuple[str, str]]:
    """Return how many imports run from one room to another."""
    arrows: Counter[tuple[str, str]] = Counter()
    for module in sorted(graph.modules):
        source = room_of(module, rooms)
        if source and not is_page(module):
            for imported in graph.find_modules_directly_imported_by(module):
                target = room_of(imported, rooms)
                if target and target != source:
                    arrows[source, target] += 1
    return arrows


def placed(layers: list[list[str]], left: float) -> dict[str, Room]:
    """Return where each room stands."""
    places: dict[str, Room] = {}
    for row, layer in enumerate(layers):
        width = min(ROOM_WIDTH, (COLUMN - GAP * (len(layer) - 1)) / len(layer))
        begin = left + (COLUMN - width * len(layer) - GAP * (len(layer) - 1)) / 2
        for k, room in enumerate(layer):
            places[room] = (begin + k * (width + GAP) + width / 2, TOP + row * ROW, width)
    return places


def drawn_wing(graph: grimp.ImportGraph, title: str, contract: str, left: float) -> list[str]:
    """Return a wing as SVG: its arrows, then its rooms over them."""
    layers = layers_of(contract)
    rooms = [room for layer in layers for room in layer]
    places = placed(layers, left)
    parts = [f'<text x="{left + COLUMN / 2:.0f}" y="66" class="title">{escape(title)}</text>']
    for (source, target), count in sorted(arrows_between(graph, rooms).items(), key=lambda one: one[1]):
        (x0, y0, _), (x1, y1, _) = places[source], places[target]
        steps = (y1 - y0) / ROW
        bend = 0.0 if abs(steps) <= 1 else (26 + 11 * abs(steps)) * (1 if (hash_of(source + target) % 2) else -1)
        begin, end = (y0 + ROOM_HEIGHT, y1) if y1 > y0 else (y0, y1 + ROOM_HEIGHT)
        wide = 0.6 + 0.9 * math.log2(1 + count)
        tone = LINE if y1 > y0 else WARM
        parts.append(
            f'<path d="M{x0:.1f} {begin:.1f} C{x0 + bend:.1f} {begin + 26:.1f} {x1 + bend:.1f} {end - 26:.1f} '
            f'{x1:.1f} {end:.1f}" fill="none" stroke="{tone}" stroke-width="{wide:.1f}" opacity=".45">'
            f"<title>{source} uses {target}: {count}</title></path>"
        )
    for room, (x, y, width) in places.items():
        name = room.rpartition(".")[2]
        parts.append(f'<rect x="{x - width / 2:.1f}" y="{y}" width="{width:.1f}" height="{ROOM_HEIGHT}" rx="3"/>')
        size = min(13.0, 1.75 * width / len(name))
        parts.append(f'<text x="{x:.1f}" y="{y + 19}" font-size="{size:.1f}">{escape(name)}</text>')
    return parts


def hash_of(text: str) -> int:
    """Return a number that is the same in every run."""
    return sum((n + 1) * ord(letter) for n, letter in enumerate(text))


def main() -> None:
    """Write the map."""
    to = Path(sys.argv[1]) if len(sys.argv) > 1 else ROOT / "docs/map.svg"
    graph = grimp.build_graph("zonatome", cache_dir=None)
    corridor = sum(
        imported.startswith("zonatome.core")
        for module in graph.modules
        if module.startswith("zonatome.web")
        for imported in graph.find_modules_directly_imported_by(module)
    )
    wings = [drawn_wing(graph, *wing) for wing in WINGS]
    deepest = max(len(layers_of(contract)) for _, contract, _ in WINGS)
    height = TOP + deepest * ROW + 30
    style = (
        f"rect{{fill:{PAPER};stroke:{INK};stroke-width:1.2}} "
        f"text{{fill:{INK};font-family:sans-serif;text-anchor:middle}}"
        " .title{font-size:16px;font-weight:600} .words{font-size:13px}"
    )
    words = (
        f"Each room uses what stands below it. The web asks the core in {corridor} places; the core never asks the web."
    )
    lines = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1340 {height:.0f}" width="1340" height="{height:.0f}">',
        f'<style>{style}</style><rect x="0" y="0" width="1340" height="{height:.0f}" style="stroke:none;fill:#fff"/>',
        f'<text x="670" y="30" class="words">{escape(words)}</text>',
        *(part for wing in wings for part in wing),
        "</svg>",
    ]
    to.write_text("\n".join(lines) + "\n")
    print(f"{to.relative_to(ROOT) if to.is_relative_to(ROOT) else to} written")


if __name__ == "__main__":
    main()
