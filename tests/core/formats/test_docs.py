"""What the documentation shows can be done: its examples are read by the readers, and say what is so."""

import json
import re
from pathlib import Path

import pytest

from zonatome.core.formats.furniture_json import read_furniture, write_furniture
from zonatome.core.formats.kind_json import write_kind
from zonatome.core.formats.lay_json import read_lay, read_request, write_request
from zonatome.core.formats.piece_json import read_piece
from zonatome.core.lay.check import faults
from zonatome.core.lay.lay import easy_lay
from zonatome.core.survey.kinds import KINDS

ROOT = Path(__file__).resolve().parents[3]
FILES = (ROOT / "docs/files.md").read_text()
LEFT_OUT = re.compile(r",?\s*…")  # what an example leaves out


def shown(name: str) -> dict:
    """The first example of a format: the lines indented by four under its heading."""
    section = FILES.split(f"`{name}`", 1)[1]
    block = re.search(r"\n\n((?:    .*\n)+)", section).group(1)
    return json.loads(LEFT_OUT.sub("", block))


def test_the_piece_of_the_documentation_is_read():
    document = shown("zonatome.piece")
    edge = document.pop("edges")[0]
    piece = read_piece(document)
    assert (piece.outline.width, piece.outline.height) == (520, 640)
    assert [e.name for e in piece.edges] == ["a", "b", "c", "d"]
    begun = [{**edge, "name": e.name, "start": e.start, "side": e.side} for e in piece.edges]
    assert read_piece({**document, "edges": begun}).edges[0].join == edge["join"]


def test_the_lay_request_of_the_documentation_is_laid_with_a_repeat_too():
    document = shown("zonatome.lay-request")
    request = read_request(document)
    assert faults(request, easy_lay(request)) == []
    again = json.loads(json.dumps(write_request(request)))
    assert {**again, **document} == again, "what it shows is what is written"
    inline = [json.loads(told) for told in re.findall(r"`(\{[^`…]+\})`", FILES)]
    repeat = next(told for told in inline if "drop" in told)
    match = next(told for told in inline if told.keys() == {"along", "across"})
    document["cloth"]["repeat"] = repeat
    document["pieces"][0] |= {"anchor": [300, 260], "match": match}
    bound = read_request(document)
    assert bound.repeat.drop == 0.5
    assert faults(bound, easy_lay(bound)) == []


def test_the_lay_of_the_documentation_is_read():
    lay = read_lay(shown("zonatome.lay"))
    assert (lay.length, lay.bound, lay.method) == (4310.5, 3768.0, "packing")
    assert lay.strips[0].length == 1346


def test_the_kind_of_the_documentation_says_what_the_command_says():
    told, made = shown("zonatome.kind"), json.loads(json.dumps(write_kind(KINDS["ottoman"])))
    panels = {p["key"]: p for p in made["panels"]}
    for panel in told["panels"]:
        assert panel == panels[panel["key"]]
    assert told["together"] == made["together"]
    assert set(told) <= set(made)


def test_the_furniture_of_the_documentation_is_what_is_written_of_a_wing_chair():
    told, made = shown("zonatome.furniture"), json.loads(json.dumps(write_furniture(KINDS["wing"])))
    assert read_furniture(made).parts == KINDS["wing"].parts
    part = next(p for p in made["parts"] if p["key"] == told["parts"][0]["key"])
    joins = told["parts"][0].pop("joins")
    assert {**part, **told["parts"][0]} == part
    assert joins.items() <= part["joins"].items()
    for list_ in ("over", "meets", "layers"):
        assert [one for one in told[list_] if one not in made[list_]] == []
    assert told["together"][0] <= made["together"][0]


@pytest.mark.parametrize(
    "page", ["README.md", "CONTRIBUTING.md", *(f"docs/{p.name}" for p in (ROOT / "docs").glob("*.md"))]
)
def test_what_the_documentation_links_to_and_runs_is_there(page):
    text = (ROOT / page).read_text()
    for target in re.findall(r"\]\((?!https?:|#)([^)#]+)", text):
        assert ((ROOT / page).parent / target).exists(), target
    makefile = (ROOT / "Makefile").read_text()
    for target in re.findall(r"\bmake ([a-z][a-z-]*)\b(?=[`\s])", text):
        assert re.search(rf"^{target}:", makefile, re.M) or target in ("sure", "it"), target
    for path in re.findall(r"`((?:zonatome|tests|bench|docs)/[\w/.*-]+)`", text):
        assert list(ROOT.glob(path.rstrip("/"))), path
