"""Glue: for open joints the two schools, what each wants first, how long it stands under the clamp."""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.errors import BadInput


@dataclass(frozen=True)
class Glue:
    """A glue: its key, its name, how many minutes it stands, what it wants first, and what to know."""

    key: str
    name: str
    minutes: int
    first: str = ""
    note: str = ""


_ROWS = (
    Glue("hide", "hot hide glue", 12 * 60, "soak it an hour, warm it to about 60 °C, warm the joint too",
         "reversible with warmth and damp: the next hand can open it"),
    Glue("modern", "modern wood glue", 12 * 60, "clean the old glue off, dry fit first",
         "holds for good; a joint that it has filled is not opened again"),
)  # fmt: skip
GLUES: dict[str, Glue] = {row.key: row for row in _ROWS}


def glue_named(key: str) -> Glue:
    """Return the glue of this key; BadInput names the ones there are."""
    if key not in GLUES:
        raise BadInput("glue", key, "one of " + ", ".join(GLUES))
    return GLUES[key]
