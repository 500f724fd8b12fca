"""The command line: the answer on standard output alone, exit status 0, 2 or 3."""

import json
import subprocess
import sys

import pytest

from tests.core.formats.test_files import GOOD_REQUEST, spoilt
from tests.core.lay.independent import wrong_with
from zonatome.__main__ import main
from zonatome.core.formats.lay_json import read_lay, read_request


def run(tmp_path, request, *more):
    path = tmp_path / "request.json"
    path.write_text(request if isinstance(request, str) else json.dumps(request))
    return subprocess.run(
        [sys.executable, "-m", "zonatome", "lay", str(path), "--seconds", "1.5", "--seed", "1", *more],
        capture_output=True,
        text=True,
        timeout=120,
    )


def test_a_good_request_is_answered_with_a_lay_and_nothing_else(tmp_path):
    done = run(tmp_path, GOOD_REQUEST)
    assert (done.returncode, done.stderr) == (0, "")
    answer = json.loads(done.stdout)
    assert (answer["format"], answer["version"]) == ("zonatome.lay", 1)
    assert wrong_with(read_request(GOOD_REQUEST), read_lay(answer)) == []
    assert answer["bound"] <= answer["length"]


def test_pieces_wider_than_the_cloth_give_status_3_and_the_lay_of_the_rest(tmp_path):
    wide = {"id": "curtain", "outline": [[0, 0], [300, 0], [300, 2000], [0, 2000]], "count": 2, "turns": [0]}
    done = run(tmp_path, {**GOOD_REQUEST, "pieces": [*GOOD_REQUEST["pieces"], wide]})
    assert done.returncode == 3
    assert json.loads(done.stdout)["unplaced"] == [{"piece": "curtain", "count": 2}]
    assert len(done.stderr.strip().splitlines()) == 1
    assert "2 of curtain" in done.stderr


@pytest.mark.parametrize(
    ("request_", "words"),
    [
        pytest.param(spoilt("cloth.repeat", {"along": -450}), "cloth.repeat.along", id="a repeat"),
        pytest.param(spoilt("cloth.kind", "panels"), "cloth.panels", id="panels without any"),
        pytest.param(spoilt("pieces", ...), "pieces", id="no pieces"),
        pytest.param("{", "JSON", id="no JSON"),
    ],
)
def test_bad_input_gives_status_2_one_line_and_no_answer(tmp_path, capsys, request_, words):
    path = tmp_path / "request.json"
    path.write_text(request_ if isinstance(request_, str) else json.dumps(request_))
    assert main(["lay", str(path)]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert len(err.strip().splitlines()) == 1
    assert words in err


def test_a_missing_file_and_a_silly_time_are_refused(tmp_path, capsys):
    assert main(["lay", str(tmp_path / "none.json")]) == 2
    (tmp_path / "r.json").write_text(json.dumps(GOOD_REQUEST))
    assert main(["lay", str(tmp_path / "r.json"), "--seconds", "-1"]) == 2
    assert main(["lay", str(tmp_path / "r.json"), "--seed", "-1"]) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert "--seconds" in err
