"""Kind JSON, `zonatome.kind` version 1: the kinds as data, for the command line; and the lay request of one piece of
furniture.
"""

from __future__ import annotations

from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.lay.request import LayRequest, PieceAsk, Roll
from zonatome.core.rules import USUAL, Rules
from zonatome.core.strip.order import goes_on
from zonatome.core.survey.kind import SEAMS, Kind, Part, side_of_edge
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.cut_marks import up_the_roll
from zonatome.core.trace.usual import usual_shape

FORMAT = "zonatome.kind"
TURNS: dict[str, tuple[float, ...]] = {"one_way": (0.0,), "two_way": (0.0, 180.0), "any": (0.0, 90.0, 180.0, 270.0)}
GAP = 3.0  # mm between two pieces


def write_kinds() -> dict[str, Any]:
    """Return the list of the kinds with their variants."""
    return {
        "kinds": [
            {
                "key": kind.key,
                "name": kind.name,
                "variants": [
                    {"key": v.key, "name": v.name, "instead_of": sorted(_excluded(kind, v.key))} for v in kind.variants
                ],
            }
            for kind in KINDS.values()
        ]
    }


def _excluded(kind: Kind, key: str) -> set[str]:
    """The variants that can't stand beside one, whichever of the two says so."""
    return {v.key for v in kind.variants if key in v.instead_of} | {
        o for v in kind.variants if v.key == key for o in v.instead_of
    }


def write_kind(kind: Kind, variants: tuple[str, ...] = (), rules: Rules = USUAL) -> dict[str, Any]:
    """Return a kind as data, from its usual measures in mm: every cut panel of the cover in its own frame, edge by
    edge.
    """
    cut = {p.key for p in kind.panels}
    return {
        "format": FORMAT,
        "version": 1,
        "kind": kind.key,
        "variants": list(variants),
        "panels": [_panel(kind, part, rules) for part in kind.panels],
        "order": [key for key in goes_on(kind) if key in cut],
        "together": [list(group) for group in kind.together],
    }


def _panel(kind: Kind, part: Part, rules: Rules) -> dict[str, Any]:
    edges = {edge: _edge(kind, part, edge, rules) for edge in part.edges}
    most = {
        side: max(
            (e["adds"] for edge, e in edges.items() if edge == "round" or side_of_edge(edge) == side), default=0.0
        )
        for side in ("top", "right", "bottom", "left")
    }
    return {
        "key": part.key,
        "name": part.name,
        "count": part.per_furniture,
        "stands": part.stands,
        "form": part.form,
        "cloth": "contrast" if part.contrast else "deck" if part.deck else "face",
        "pair": part.mirror,
        "across": part.width,
        "up": part.height,
        "cut_across": round(part.width + most["left"] + most["right"], 3),
        "cut_up": round(part.height + most["top"] + most["bottom"], 3),
        "edges": edges,
    }


def _edge(kind: Kind, part: Part, edge: str, rules: Rules) -> dict[str, Any]:
    join = part.joins[edge]
    meets = []
    for span in kind.spans_at(part.key, edge) if join in SEAMS else ():
        whole = kind.part(span.key).edge_length(span.edge)
        part_only = len(kind.meetings_at(span.key, span.edge)) > 1
        said: dict[str, Any] = {"panel": span.key, "edge": span.edge}
        if part_only:
            said["part"] = [round(span.begins, 3), round(min(span.ends, whole), 3)]
        meets.append(said)
    return {"length": round(part.edge_length(edge), 3), "join": join, "adds": rules.adds(join), "meets": meets}


def request_of_kind(kind: Kind, *, width: float, direction: str = "one_way", rules: Rules = USUAL) -> LayRequest:
    """Return the lay request of one such piece of furniture, by its usual measures, on a roll of this width.

    Every piece lies with its up along the roll, its top toward the squared end. Raises BadInput for a width that no
    roll has, or a direction that is none.
    """
    if not 100 <= width <= 5000:
        raise BadInput("width", width, "100 to 5000 mm")
    if direction not in TURNS:
        raise BadInput("direction", direction, "one of " + ", ".join(TURNS))
    pieces = [
        PieceAsk(part.key, up_the_roll(usual_shape(part, rules).cut_line), part.per_furniture, TURNS[direction])
        for part in kind.panels
    ]
    return LayRequest(Roll(width, (0.0, 0.0), None, ()), GAP, tuple(pieces), ())
