"""What is written beside a pad's drawings: cuts a layer, springs and straps by their length, the cover's growth."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from zonatome.core.pad.worked import Cut, Worked
from zonatome.core.units import Units, format_length, format_size
from zonatome.web.jobs.models import JobPart
from zonatome.web.pad.services import Growth
from zonatome.web.trace.services import shape_of_part


@dataclass(frozen=True)
class CutRow:
    """What is cut for one layer, in words: its size, how often, how it is held."""

    place: int
    name: str
    group: str
    size: str
    count: int
    words: str
    is_flat: bool


def cut_rows(done: Worked, pads: int, units: Units) -> list[CutRow]:
    """Return a row a layer, from the cover down."""
    found = []
    for cut in reversed(done.cuts):
        words = "was there, stays" if cut.layer.kept else cut.made.held
        if cut.corners and not cut.layer.kept:
            words += f"; {cut.corners} squares cut out"
        if cut.count > 1 and cut.outline is not None:
            words = f"{cut.count} discs glued face to face"
            last = done.frame.length - (cut.count - 1) * cut.layer.thickness
            if last < cut.layer.thickness:
                words += f", the last one {format_length(last, units, 'small')} thick"
        found.append(
            CutRow(
                cut.place,
                f"{cut.layer.name} {format_length(cut.layer.thickness, units, 'small')}",
                cut.made.group,
                _size(cut, units),
                pads * cut.count,
                words,
                cut.outline is not None and not cut.layer.kept,
            )
        )
    return found


def _size(cut: Cut, units: Units) -> str:
    if cut.layer.kept:
        return ""
    if cut.size is not None:
        return format_size(*cut.size, units)
    if cut.made.bought == "spring":
        return f"{cut.count} springs"
    if cut.made.bought == "strap":
        return f"{cut.count} straps, {format_length(cut.length, units, 'cloth', up=True)}"
    return format_length(cut.length, units)


@dataclass(frozen=True)
class SpanRow:
    """Straps or springs of one length: which, how many, how long they are cut, and where they are marked."""

    which: str
    count: int
    length: str
    words: str = ""


def span_rows(done: Worked, units: Units) -> dict[str, list[SpanRow]]:
    """Return straps and sinuous springs by their length, as they are cut."""
    found: dict[str, list[SpanRow]] = {}
    if done.webbed is not None:
        rows = []
        for way, words in (("deep", "front to back"), ("across", "side to side")):
            straps = [s for s in done.webbed.straps if s.way == way]
            lengths = Counter((round(s.cut, 0), round(s.marks[0], 0), round(s.marks[1], 0)) for s in straps)
            for (cut, first, last), count in sorted(lengths.items(), reverse=True):
                marks = " and ".join(format_length(m, units, "small") for m in (first, last))
                rows.append(SpanRow(words, count, format_length(cut, units, "small"), f"marks at {marks}"))
        found["Straps to cut"] = rows
    if done.sinuous is not None:
        by_length: dict[float, list[int]] = {}
        for s in done.sinuous.springs:
            by_length.setdefault(round(s.cut, 0), []).append(s.number)
        found["Springs to cut"] = [
            SpanRow(", ".join(map(str, numbers)), len(numbers), format_length(cut, units, "small"))
            for cut, numbers in sorted(by_length.items(), key=lambda one: one[1])
        ]
    return found


def growth_rows(part: JobPart, growth: Growth | None) -> list[tuple[str, float]]:
    """Return by how much the cover grew, an edge a row, by the edge's side and how it is held."""
    if growth is None or not growth.edges:
        return []
    shape = shape_of_part(part)
    named = {edge.name: edge for edge in shape.edges}
    return [(f"{named[name].side}, {named[name].join.replace('_', ' ')}", by) for name, by in growth.edges]
