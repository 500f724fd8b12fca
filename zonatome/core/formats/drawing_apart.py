"""A drawing read in a process of its own."""

from __future__ import annotations

from zonatome.core.errors import BadInput
from zonatome.core.intake.apart import worked_apart
from zonatome.core.outline import Outline, outline_of

MOST_BYTES = 2_000_000


def outline_read_apart(content: bytes, *, name: str, unit: str = "", which: int = 1) -> Outline:
    """Return what `drawing_in.outline_from_drawing` does; a drawing that takes too long or too much is refused.

    Raises BadInput with the key `file`, `unit` or `which`.
    """
    if len(content) > MOST_BYTES:
        raise BadInput("file", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    told, _ = worked_apart("drawing", {"name": name[-80:], "unit": unit, "which": which}, content, key="file")
    return outline_of([(float(x), float(y)) for x, y in told["points"]], key="file")
