"""The acts of a rehearsal, and what somebody drew of a finished seat, as they are stored."""

from __future__ import annotations

from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.fasten.rehearsal.acts import MOST_ACTS, STRONGEST, Act
from zonatome.core.fasten.rehearsal.faults import MOST_SIGHTS, Sight
from zonatome.core.fasten.rehearsal.seat_photo import MARKS, checked_marks
from zonatome.core.formats import reading

FARTHEST = 5000.0  # mm from the panel's corner
DOINGS = ("set", "out", "pull")


def read_acts(stored: object) -> tuple[Act, ...]:
    """Return stored acts. Raises BadInput with where something else stands."""
    found = []
    for n, row in enumerate(reading.listed(stored, "acts", most=MOST_ACTS)):
        where = f"acts[{n}]"
        told = reading.listed(row, where, least=3, most=4)
        if told[0] not in DOINGS:
            raise BadInput(f"{where}[0]", str(told[0])[:20], "set, out or pull")
        pull = reading.number(told[-1], f"{where}[{len(told) - 1}]", least=0, most=STRONGEST)
        if len(told) == 4:
            x, y = (reading.number(told[k], f"{where}[{k}]", least=-FARTHEST, most=FARTHEST) for k in (1, 2))
            found.append(Act(told[0], -1, (x, y), pull))
        else:
            number = reading.number(told[1], f"{where}[1]", least=0, most=MOST_ACTS)
            found.append(Act(told[0], int(number), None, pull))
    return tuple(found)


def write_acts(acts: tuple[Act, ...]) -> list[list[Any]]:
    """Return acts as they are stored."""
    return [[a.doing, *(a.at if a.at is not None else (a.number,)), a.pull] for a in acts]


def read_sights(stored: object) -> tuple[Sight, ...]:
    """Return what somebody drew: the sort of each and its places. Raises BadInput with where something else stands."""
    found = []
    for n, row in enumerate(reading.listed(stored, "sights", least=1, most=MOST_SIGHTS)):
        where = f"sights[{n}]"
        sort, points = reading.listed(row, where, least=2, most=2)
        rows = [
            reading.listed(one, f"{where}[1][{k}]", least=2, most=2)
            for k, one in enumerate(reading.listed(points, f"{where}[1]", least=2, most=200))
        ]
        at = tuple(
            (
                reading.number(x, f"{where}[1][{k}][0]", least=-FARTHEST, most=FARTHEST),
                reading.number(y, f"{where}[1][{k}][1]", least=-FARTHEST, most=FARTHEST),
            )
            for k, (x, y) in enumerate(rows)
        )
        found.append(Sight(sort, at))
    return tuple(found)


def read_marks(stored: object) -> tuple[tuple[float, float], ...]:
    """Return the four places on a photo where the board's corners are; none for none. Raises BadInput with where
    something else stands.
    """
    if not stored:
        return ()
    rows = [
        reading.listed(row, f"marks[{n}]", least=2, most=2)
        for n, row in enumerate(reading.listed(stored, "marks", least=MARKS, most=MARKS))
    ]
    return checked_marks(
        [
            tuple(reading.number(by, f"marks[{n}][{k}]", least=0, most=1) for k, by in enumerate(row))  # type: ignore[misc]
            for n, row in enumerate(rows)
        ]
    )
