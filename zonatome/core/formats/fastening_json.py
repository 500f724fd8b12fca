"""What was chosen and done while a panel is put on, as JSON, `zonatome.fastening`; lengths in mm."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.fasten.chosen import MOST_FOUND, MOST_PLACES, MOST_POSTS, Chosen, Found, PostCut
from zonatome.core.fasten.looked import MOST_LINES, MOST_POINTS, SeenLine
from zonatome.core.fasten.relief import Post
from zonatome.core.formats import reading

FORMAT = "zonatome.fastening"
MOST = 20_000.0  # mm
MOST_SEAMS = 200
MOST_WHY = 160  # characters


def write_fastening(chosen: Chosen) -> dict[str, Any]:
    """Return it as plain values."""
    told = {"format": FORMAT, "version": 1, **asdict(chosen), "closings": dict(chosen.closings)}
    plain: dict[str, Any] = json.loads(json.dumps(told))  # lists where there were tuples, as it is read again
    return plain


def read_fastening(data: Mapping[str, Any] | None) -> Chosen:
    """Return what plain values say; nothing chosen for none. Raises BadInput, naming what is wrong where."""
    if data is None or data == {}:
        return Chosen()
    told = reading.table(data, "fastening")
    reading.check_format(told, FORMAT)

    def length(key: str) -> float | None:
        value = told.get(key)
        return None if value is None else reading.number(value, key, least=0, most=MOST)

    return Chosen(
        reading.whole(told.get("rows", 1), "rows", least=1, most=2),
        reading.words(told, "fold", most=20),
        length("radius") or 0.0,
        length("wrap"),
        length("outer"),
        length("inner"),
        reading.number(told.get("deep", 10.0), "deep", least=1, most=100),
        tuple(
            _post(reading.table(p, "posts")) for p in reading.listed(told.get("posts", []), "posts", most=MOST_POSTS)
        ),
        {
            reading.text(k, "closings", most=20): reading.text(v, "closings", most=20)
            for k, v in reading.table(told.get("closings", {}), "closings").items()
        },
        _names(told, "ticks"),
        _names(told, "done"),
        tuple(
            _found(reading.table(f, "found")) for f in reading.listed(told.get("found", []), "found", most=MOST_FOUND)
        ),
        _names(told, "top_stitched"),
        _names(told, "welted"),
        reading.whole(told.get("sewn", 0), "sewn", least=0, most=1000),
        tuple(
            reading.whole(place, "own_order", least=0, most=MOST_PLACES)
            for place in reading.listed(told.get("own_order", []), "own_order", most=MOST_PLACES)
        ),
        tuple(
            reading.text(why, "own_why", most=MOST_WHY)
            for why in reading.listed(told.get("own_why", []), "own_why", most=MOST_PLACES)
        ),
    )


def _names(told: Mapping[str, Any], key: str) -> tuple[str, ...]:
    return tuple(reading.text(v, key, most=120) for v in reading.listed(told.get(key, []), key, most=MOST_SEAMS))


def _post(told: dict[str, Any]) -> PostCut:
    post = reading.table(reading.wanted(told, "post", "posts"), "posts.post")
    at = _pair(reading.wanted(post, "at", "posts.post"), "posts.post.at", least=-MOST, most=MOST)
    width = reading.number(post.get("width"), "posts.post.width", least=0, most=MOST)
    sort = reading.text(told.get("sort", "straight"), "posts.sort", most=10)
    if sort not in ("straight", "y"):
        raise BadInput("posts.sort", sort, "straight or y")
    stop = reading.number(told.get("stop", 10.0), "posts.stop", least=0, most=100)
    return PostCut(Post(at, width), "y" if sort == "y" else "straight", stop)


def _found(told: dict[str, Any]) -> Found:
    return Found(
        reading.text(reading.wanted(told, "look", "found"), "found.look", most=20),
        reading.whole(told.get("piece", 1), "found.piece", least=1, most=10_000),
        reading.words(told, "words"),
    )


def write_seen(lines: Iterable[SeenLine]) -> list[dict[str, Any]]:
    """Return the lines of a photo as plain values."""
    return [{**asdict(line.found), "points": [list(point) for point in line.points]} for line in lines]


def read_seen(data: Any) -> tuple[SeenLine, ...]:
    """Return the lines of a photo; none for none. Raises BadInput, naming what is wrong where."""
    return tuple(_seen(reading.table(row, "lines")) for row in reading.listed(data or [], "lines", most=MOST_LINES))


def _seen(told: dict[str, Any]) -> SeenLine:
    points = reading.listed(told.get("points"), "lines.points", least=2, most=MOST_POINTS)
    return SeenLine(_found(told), tuple(_pair(point, "lines.points", least=0, most=1) for point in points))


def _pair(value: Any, key: str, *, least: float, most: float) -> tuple[float, float]:
    x, y = (reading.number(v, key, least=least, most=most) for v in reading.listed(value, key, least=2, most=2))
    return x, y
