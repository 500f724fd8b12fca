"""Each key of a lay request wrong in turn: the sentence names the key, the value and what was expected, and nothing is
answered.
"""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest

from zonatome.__main__ import main
from zonatome.core.errors import BadInput
from zonatome.core.formats.lay_json import read_request

SQUARE = [[0, 0], [300, 0], [300, 200], [0, 200]]
ROLL: dict[str, Any] = {
    "format": "zonatome.lay-request",
    "version": 1,
    "gap": 3,
    "cloth": {
        "kind": "roll",
        "width": 1370,
        "selvage": [12, 12],
        "repeat": {"along": 450, "across": 340, "drop": 0.5, "origin": [0, 20]},
        "flaws": [[[600, 300], [640, 300], [640, 360], [600, 360]]],
    },
    "pieces": [
        {
            "id": "seat",
            "outline": SQUARE,
            "count": 6,
            "turns": [0],
            "flip": False,
            "anchor": [150, 100],
            "priority": True,
            "match": {"along": True, "across": True},
        },
        {"id": "back", "outline": SQUARE, "count": 2, "turns": [0, 180]},
    ],
    "strips": [
        {"id": "welt", "width": 38, "total": 9200, "join": 40, "shortest": 500, "directions": ["across", "along"]}
    ],
    "pinned": [{"piece": "back", "copy": 1, "x": 10, "y": 20, "turn": 180, "flip": False}],
}
PANELS: dict[str, Any] = {
    **ROLL,
    "cloth": {
        "kind": "panels",
        "panels": [{"outline": [[0, 0], [900, 0], [900, 700], [0, 700]]}, {"outline": SQUARE}],
        "flaws": [{"panel": 1, "outline": [[10, 10], [30, 10], [30, 30]]}],
    },
    "pinned": [{"piece": "back", "copy": 2, "x": 0, "y": 0, "panel": 1}],
}
NAN, INF = float("nan"), float("inf")
MISSING = object()


def spoilt(good: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """The good request with one key set to another value, or taken out."""
    document = copy.deepcopy(good)
    at: Any = document
    *way, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    for step in way:
        at = at[step]
    if value is MISSING:
        del at[last]
    else:
        at[last] = value
    return document


def named(path: str) -> str:
    """The key as a refusal names it: `pieces[0].outline`."""
    steps = path.split(".")
    return "".join(f"[{s}]" if s.isdigit() else s if n == 0 else f".{s}" for n, s in enumerate(steps))


WRONG: list[
    tuple[dict[str, Any], str, Any, str, str]
] = [  # of which request, where, what stands there, the key named, what was expected
    *[(ROLL, "format", v, "format", "'zonatome.lay-request'") for v in (MISSING, "zonatome.lay", 3)],
    *[(ROLL, "version", v, "version", "version 1") for v in (MISSING, 2, "one")],
    *[(ROLL, "gap", v, "gap", "number") for v in (NAN, INF, "3 mm", [3], True)],
    *[(ROLL, "gap", v, "gap", "500") for v in (-1, 501)],
    (ROLL, "cloth", MISSING, "cloth", ""),
    (ROLL, "cloth", [1], "cloth", ""),
    *[(ROLL, "cloth.kind", v, "cloth.kind", "'roll' or 'panels'") for v in ("bolt", 7, None)],
    (ROLL, "cloth.kind", MISSING, "cloth.kind", ""),
    (ROLL, "cloth.kind", "panels", "cloth.repeat", "each panel has its own"),
    *[(ROLL, "cloth.width", v, "cloth.width", "number") for v in (NAN, "wide", None)],
    *[(ROLL, "cloth.width", v, "cloth.width", "") for v in (MISSING, 0, -1370, 49, 1e9)],
    *[(ROLL, "cloth.selvage", v, "cloth.selvage", "") for v in ([12], [12, 12, 12], 12, [700, 700])],
    *[(ROLL, "cloth.selvage", [v, 12], "cloth.selvage[0]", "") for v in (-1, NAN, "12", 9999)],
    (ROLL, "cloth.repeat", "half drop", "cloth.repeat", ""),
    *[
        (ROLL, f"cloth.repeat.{k}", v, f"cloth.repeat.{k}", "")
        for k in ("along", "across")
        for v in (0, -450, NAN, "450", 1e6, 4)
    ],
    *[(ROLL, "cloth.repeat.drop", v, "cloth.repeat.drop", "") for v in (2, -2, NAN, "half")],
    *[(ROLL, "cloth.repeat.origin", v, "cloth.repeat.origin", "") for v in ([0], 20, [0, 1, 2])],
    *[(ROLL, "cloth.repeat.origin", [0, v], "cloth.repeat.origin[1]", "") for v in (NAN, INF, "20")],
    *[(ROLL, "cloth.flaws", v, "cloth.flaws", "") for v in ("here", {"x": 1})],
    *[
        (ROLL, "cloth.flaws.0", v, "cloth.flaws[0]", "")
        for v in ([[1, 1], [2, 2]], 5, [[0, 0], [9, 9], [9, 0], [0, 9]])
    ],
    (ROLL, "cloth.flaws", [[[0, 0], [9, 0], [9, 9]]] * 201, "cloth.flaws", "200"),
    *[(ROLL, "pieces", v, "pieces", "") for v in (MISSING, "seat", {"id": "seat"})],
    (ROLL, "pieces", [{"id": f"p{n}", "outline": SQUARE} for n in range(5000)], "pieces", "2000"),
    (ROLL, "pieces.0.count", 5000, "pieces[0].count", "2000"),
    *[(ROLL, "pieces.0.count", v, "pieces[0].count", "whole number") for v in (1.5, "6", NAN, None)],
    *[(ROLL, "pieces.0.count", v, "pieces[0].count", "") for v in (0, -1)],
    (ROLL, "pieces.1.id", "seat", "pieces.id", "stands once"),
    *[(ROLL, "pieces.0.id", v, "pieces[0].id", "") for v in (MISSING, 5, "", "x" * 5000)],
    *[(ROLL, "pieces.0.outline", v, "pieces[0].outline", "") for v in (MISSING, "square", SQUARE[:2], SQUARE * 2000)],
    *[(ROLL, "pieces.0.outline.2", v, "pieces[0].outline", "") for v in ([NAN, 1], [1], "x", [1e9, 0], [NAN, INF])],
    (ROLL, "pieces.0.outline", [[0, 0], [300, 200], [300, 0], [0, 200]], "pieces[0].outline", "cross"),
    *[(ROLL, "pieces.0.turns", v, "pieces[0].turns", "list of turns") for v in ([], "none", 0, None)],
    *[(ROLL, "pieces.0.turns", [v], "pieces[0].turns[0]", "") for v in (NAN, "up", 1e9)],
    *[
        (ROLL, f"pieces.0.{k}", v, f"pieces[0].{k}", "true or false")
        for k in ("flip", "priority")
        for v in ("no", 1, None)
    ],
    *[(ROLL, "pieces.0.anchor", v, "pieces[0].anchor", "") for v in ([1], "middle", [1, 2, 3])],
    (ROLL, "pieces.0.anchor", [NAN, 1], "pieces[0].anchor[0]", "number"),
    (ROLL, "pieces.0.match", "both", "pieces[0].match", ""),
    *[(ROLL, f"pieces.0.match.{k}", 1, f"pieces[0].match.{k}", "true or false") for k in ("along", "across")],
    *[(ROLL, "strips", v, "strips", "") for v in ("welt", {"id": "welt"})],
    *[(ROLL, "strips.0.width", v, "strips[0].width", "") for v in (MISSING, 0, NAN, "38", 5000)],
    *[(ROLL, "strips.0.total", v, "strips[0].total", "") for v in (MISSING, 0, INF, -5, 2e6)],
    *[(ROLL, "strips.0.join", v, "strips[0].join", "") for v in (-1, NAN, 501)],
    *[(ROLL, "strips.0.shortest", v, "strips[0].shortest", "") for v in (-1, NAN, 1e9)],
    *[(ROLL, "strips.0.directions", v, "strips[0].directions", "") for v in ([], ["down"], "along", [["along"]])],
    *[(ROLL, "pinned.0.piece", v, "pinned[0].piece", "") for v in (MISSING, "arm", 3)],
    *[(ROLL, "pinned.0.copy", v, "pinned[0].copy", "") for v in (MISSING, 3, 0, "1")],
    *[(ROLL, f"pinned.0.{k}", v, f"pinned[0].{k}", "") for k in ("x", "y") for v in (MISSING, NAN, "left", 1e9)],
    *[(ROLL, "pinned.0.turn", v, "pinned[0].turn", "") for v in (NAN, "up", 999)],
    (ROLL, "pinned.0.flip", 0, "pinned[0].flip", "true or false"),
    *[(PANELS, "cloth.panels", v, "cloth.panels", "") for v in (MISSING, [], "hide", [{"outline": SQUARE}] * 61)],
    (PANELS, "cloth.panels.0", 5, "cloth.panels[0]", ""),
    *[
        (PANELS, "cloth.panels.0.outline", v, "cloth.panels[0].outline", "")
        for v in (MISSING, SQUARE[:2], [[0, 0]] * 4)
    ],
    *[(PANELS, "cloth.flaws.0.panel", v, "cloth.flaws[0].panel", "") for v in (MISSING, 2, -1, "first")],
    (PANELS, "cloth.flaws.0.outline", MISSING, "cloth.flaws[0].outline", ""),
    (PANELS, "cloth.repeat", {"along": 5000, "across": 5000}, "cloth.repeat", "each panel has its own"),
    *[(PANELS, "pinned.0.panel", v, "pinned[0].panel", "") for v in (2, -1, "last")],
]


@pytest.mark.parametrize(
    ("good", "path", "value", "key", "expected"),
    WRONG,
    ids=[f"{w[1]}={'(none)' if w[2] is MISSING else str(w[2])[:24]}-{n}" for n, w in enumerate(WRONG)],
)
def test_a_wrong_key_is_named_with_its_value_and_what_was_expected(good, path, value, key, expected):
    read_request(good)
    with pytest.raises(BadInput) as refused:
        read_request(spoilt(good, path, value))
    assert refused.value.key.startswith(key), refused.value
    assert expected.lower() in str(refused.value).lower()
    assert refused.value.expected, "what was expected is always said"
    assert len(str(refused.value)) < 400, "a long value is cut short"


@pytest.mark.parametrize(
    ("document", "words"),
    [
        pytest.param(json.dumps(spoilt(ROLL, "gap", NAN)), "nan", id="NaN in the text"),
        pytest.param(json.dumps(spoilt(ROLL, "gap", -INF)), "-inf", id="an infinity"),
        pytest.param("[" * 10_000 + "]" * 10_000, "without end", id="nested without end"),
        pytest.param('{"format": "zonatome.lay-request", "version": 1, "version": 1}', "", id="a key twice"),
        pytest.param("[1, 2]", "", id="a list"),
        pytest.param("null", "", id="nothing"),
        pytest.param(b"\xff\xfe{", "UTF-8", id="another encoding"),
        pytest.param(json.dumps(spoilt(ROLL, "gap", 10**400)), "gap", id="a number beyond all"),
    ],
)
def test_text_that_is_no_request_gives_one_line_and_status_2(tmp_path, capsys, document, words):
    path = tmp_path / "request.json"
    path.write_bytes(document if isinstance(document, bytes) else document.encode())
    assert main(["lay", str(path), "--seconds", "0.2"]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert len(err.strip().splitlines()) == 1
    assert words.lower() in err.lower()
    assert str(path) in err


def test_what_is_correct_and_cannot_be_laid_is_status_3_with_the_rest_named(tmp_path, capsys):
    wide = {"id": "curtain", "outline": [[0, 0], [300, 0], [300, 2000], [0, 2000]], "count": 2}
    off_motif = spoilt(
        ROLL,
        "pieces.1",
        {
            "id": "back",
            "outline": [[0, 0], [300, 0], [300, 1340], [0, 1340]],
            "anchor": [150, 1300],
            "match": {"across": True},
        },
    )
    cases = [
        ({**ROLL, "pinned": [], "pieces": [*ROLL["pieces"], wide]}, [{"piece": "curtain", "count": 2}], "2 of curtain"),
        ({**off_motif, "pinned": []}, [{"piece": "back", "count": 1}], "1 of back"),
        (
            {**PANELS, "pinned": [], "strips": [], "pieces": [wide, ROLL["pieces"][1]]},
            [{"piece": "curtain", "count": 2}],
            "no room",
        ),
    ]
    for document, unplaced, words in cases:
        path = tmp_path / "request.json"
        path.write_text(json.dumps(document))
        assert main(["lay", str(path), "--seconds", "0.3"]) == 3
        out, err = capsys.readouterr()
        assert json.loads(out)["unplaced"] == unplaced
        assert words in err
        assert len(err.strip().splitlines()) == 1
