"""What one press does to the panels of a job: add, drop, rename, split, join, part, lay over.

Each act takes the furniture, the part in hand and what was checked of the form, and returns the furniture after it with
what it did, in words.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal

from zonatome.core.errors import BadInput
from zonatome.core.survey.furniture import add_part, change_part, drop_part, not_over, put_over, rename_part
from zonatome.core.survey.joining import join_panels, part_panels
from zonatome.core.survey.kind import Kind
from zonatome.core.survey.splitting import split_part

MOST_CUT = 40  # of one panel, for each piece of furniture
Data = dict[str, Any]
Changed = tuple[Kind, str]


def _name(kind: Kind, key: str) -> str:
    return kind.part(key).name.lower()


def _add(kind: Kind, _: str, data: Data) -> Changed:
    cover: Literal["new", "both"] = "new" if data["new"] else "both"
    held = ("screws",) if data["what"] == "hardware" else ("staples",)
    made = add_part(
        kind, data["name"], what=data["what"], width=data["width"] or 0, height=data["height"] or 0,
        on=data["on"] or None, side=data["side"], join=data["join"], cover=cover, held=held,
    )  # fmt: skip
    return made, f"{data['name']} added"


def _drop(kind: Kind, key: str, _: Data) -> Changed:
    return drop_part(kind, key), f"no {_name(kind, key)}"


def _count(kind: Kind, key: str, data: Data) -> Changed:
    """How often it is cut; of a pair both: one shape cut four times is two mirrored pairs."""
    text = data["count"]
    many = int(text) if text.isdigit() and len(text) < 3 else 0
    if not 1 <= many <= MOST_CUT:
        raise BadInput("count", text, f"1 to {MOST_CUT} to cut for each piece of furniture")
    words = f"{_name(kind, key)} cut {many} times"
    for one in (key, kind.part(key).mirror):
        if one:
            kind = change_part(kind, one, per_furniture=many)
    return kind, words


def _rename(kind: Kind, key: str, data: Data) -> Changed:
    return rename_part(kind, key, data["name"]), f"{_name(kind, key)} is called {data['name']}"


def _split(kind: Kind, key: str, data: Data) -> Changed:
    share = data["at"] / 100
    strips = ((data["first"], share), (data["second"], 1 - share))
    return split_part(kind, key, into=strips, way=data["way"], new=data["new"]), f"{_name(kind, key)} split"


def _join(kind: Kind, key: str, data: Data) -> Changed:
    joined = join_panels(kind, key, data["side"], data["other"], data["other_side"], data["join"], span=data["span"])
    return joined, f"{_name(kind, key)} joined"


def _part(kind: Kind, key: str, data: Data) -> Changed:
    words = f"{_name(kind, key)} parted from {_name(kind, data['other'])}"
    return part_panels(kind, key, data["other"]), words


def _over(kind: Kind, key: str, data: Data) -> Changed:
    words = f"{_name(kind, data['other'])} lies over {_name(kind, key)}"
    return put_over(kind, key, data["other"]), words


def _under(kind: Kind, key: str, data: Data) -> Changed:
    words = f"{_name(kind, key)} lies over {_name(kind, data['other'])}"
    return put_over(kind, data["other"], key), words


def _not_over(kind: Kind, key: str, data: Data) -> Changed:
    words = f"{_name(kind, data['other'])} does not lie over {_name(kind, key)}"
    return not_over(kind, key, data["other"]), words


ACTS: dict[str, Callable[[Kind, str, Data], Changed]] = {
    "add": _add,
    "drop": _drop,
    "count": _count,
    "rename": _rename,
    "split": _split,
    "join": _join,
    "part": _part,
    "over": _over,
    "under": _under,
    "not-over": _not_over,
}
