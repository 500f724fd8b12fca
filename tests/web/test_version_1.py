"""A workroom, a tag's ZIP and furniture saved by the version before: opened, each panel turned into its own frame,
nothing lost.
"""

from __future__ import annotations

import gzip
import io
import json
import os
import sqlite3
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from zonatome.core.errors import BadInput
from zonatome.core.formats.furniture_json import read_furniture
from zonatome.core.formats.version_1 import brought_over, job_brought_over, kinds_then
from zonatome.core.survey.kinds import KINDS
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.trace.services import shape_of_part

SAVED = Path(__file__).parent / "version_1"
ROOT = Path(__file__).resolve().parents[2]
LOOK = """
import json, django; django.setup()
from django.core.management import call_command
call_command("migrate", verbosity=0)
call_command("collectstatic", interactive=False, verbosity=0)
from django.contrib.auth.models import User
from django.test import Client
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.loading import load_job
from zonatome.web.lay.services import cloth_standing
from zonatome.web.trace.services import shape_of_part
bench = Client(HTTP_HOST="localhost"); bench.force_login(User.objects.first())
PAGES = ("survey", "strip", "trace", "trace/ready", "lay", "pad", "fasten", "trim", "finish", "money", "survey/panels")
told = {}
for number in Job.objects.values_list("number", flat=True):
    job = load_job(number)
    shapes = {p.key: shape_of_part(p) for p in job.parts.all() if p.shape}
    told[number] = {
        "sizes": {k: [round(s.outline.width), round(s.outline.height)] for k, s in shapes.items()},
        "joins": {k: {e.side: e.join for e in s.edges} for k, s in shapes.items()},
        "stale": [cloth_standing(c).is_stale for c in job.cloths.all()],
        "look": job.to_look_at,
        "off": {p.key: p.off_number for p in job.parts.all()},
        "marks": {p.key: p.marks for p in job.parts.all()},
        "pages": {p: bench.get(f"/tags/{number}/{p}/", follow=True).status_code for p in PAGES},
        "lay": bench.get(f"/tags/{number}/lay/", follow=True).content.decode(),
        "trace": bench.get(f"/tags/{number}/trace/ready/").content.decode(),
    }
print("TOLD" + json.dumps(told))
"""


@pytest.fixture(scope="module")
def opened(tmp_path_factory) -> dict:
    """The saved workroom, opened by this version in a process of its own."""
    home = tmp_path_factory.mktemp("saved")
    with sqlite3.connect(home / "workroom.sqlite3") as store:
        store.executescript(gzip.decompress((SAVED / "workroom.sql.gz").read_bytes()).decode())
    store.close()
    env = {k: v for k, v in os.environ.items() if not k.startswith("ZONATOME")}
    env |= {"ZONATOME_HOME": str(home), "DJANGO_SETTINGS_MODULE": "zonatome.web.settings"}
    done = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", LOOK], cwd=ROOT, env=env, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return {int(n): told for n, told in json.loads(done.stdout.split("TOLD")[1]).items()}


def test_every_tag_opens_on_every_page(opened):
    assert sorted(opened) == [118, 121, 123, 124]
    for number, told in opened.items():
        assert set(told["pages"].values()) == {200}, number


def test_an_ottoman_s_ends_lie_in_their_own_frame_with_the_rail_s_allowance_at_the_rail(opened):
    """By hand: an end of 470 by 270, held by its top and both corners, stapled under below; it lay as 270 by 470."""
    told = opened[123]
    assert told["sizes"]["end_left"] == told["sizes"]["end_right"] == [470, 270]
    assert told["joins"]["end_right"] == {"bottom": "stapled_under", "right": "sewn", "top": "sewn", "left": "sewn"}
    assert told["joins"]["front"]["bottom"] == "stapled_under"


def test_what_a_user_had_changed_stays_and_is_listed_to_look_at(opened):
    left = opened[123]["joins"]["end_left"]
    assert sorted(left.values()).count("turned_under") == 1
    assert any("End, left" in w and "turned under" in w for w in opened[123]["look"])
    assert "To look at since the last version" in opened[123]["trace"]
    assert any("Head roll" in w for w in opened[124]["look"])
    assert "head_roll" in opened[124]["off"]


def test_lays_of_turned_shapes_are_out_of_date_and_said_so(opened):
    for number in (118, 121, 123):
        assert any(opened[number]["stale"]), number
        assert "out of date" in opened[number]["lay"], number


def test_a_sewn_cover_is_one_thing_in_the_record_and_a_cushion_has_its_panels(opened):
    assert len({opened[118]["off"][k] for k in ("seat", "inside_back", "outside_back", "side_left", "side_right")}) == 1
    assert {"cushion_top", "cushion_bottom", "cushion_boxing", "cushion_zip_upper", "cushion_zip_lower"} <= set(
        opened[124]["off"]
    )
    assert opened[124]["off"]["cushion_top"] == opened[124]["off"]["cushion_bottom"] is not None
    assert opened[124]["marks"]["cushion_top"], "what was written on it is kept"
    assert "zip_strip_lower" in opened[121]["sizes"]


def test_a_tag_s_zip_of_the_version_before_comes_in_turned(bench):
    answer = bench.post(
        "/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", (SAVED / "ottomans.zip").read_bytes())}
    )
    assert answer.status_code == 302, answer.content.decode()[-1500:]
    job = load_job(Job.objects.get().number)
    outline = shape_of_part(job.parts_by_key()["end_right"]).outline
    assert (round(outline.width), round(outline.height)) == (470, 270)
    assert job.to_look_at
    again = bench.get(f"/tags/{job.number}/tag.zip")
    assert json.loads(zipfile.ZipFile(io.BytesIO(b"".join(again.streaming_content))).read("job.json"))["version"] == 2
    bench.post(f"/tags/{job.number}/trace/looked-at/")
    assert load_job(job.number).to_look_at == []


def old_furniture(kind: str, make: str) -> dict:
    then = kinds_then()[kind]
    parts = [{"short": "x", **then["parts"][k]} for k in then["makes"][make]["parts"]]
    return {
        "format": "zonatome.furniture",
        "version": 1,
        "kind": kind,
        "parts": parts,
        "over": then["makes"][make]["over"],
        "meets": [],
        "layers": [],
    }


MAKES = [(kind, make) for kind, then in kinds_then().items() for make in then["makes"]]


@pytest.mark.parametrize(("kind", "make"), MAKES, ids=[f"{k}+{m}" for k, m in MAKES])
def test_every_make_of_version_1_is_today_s_make_where_nobody_changed_it(kind, make):
    told = brought_over(old_furniture(kind, make))
    assert told.kept == ()
    assert set(told.variants) == set(filter(None, make.split("+")))
    today = [v for v in KINDS[kind].variants if v.key in told.variants]
    assert {p.key for v in today for p in v.parts if p.what == "panel"} <= {p.key for p in told.kind.parts}
    rows = [
        {"key": k, "shape": None, "off_number": None, "is_there": True}
        for k in kinds_then()[kind]["makes"][make]["parts"]
    ]
    whole = job_brought_over(kind, told.variants, None, rows)
    assert {p.key for p in whole.kind.parts} <= {r["key"] for r in whole.rows}
    assert read_furniture(old_furniture(kind, make)) == told.kind


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "throne"},
        {"parts": []},
        {"parts": [7]},
        {"parts": [{"key": "seat"}], "over": [["seat"]]},
        {"meets": [["a", "b"]]},
        {"over": 7},
    ],
)
def test_a_file_of_version_1_that_makes_no_furniture_is_refused(wrong):
    with pytest.raises(BadInput, match="expected"):
        read_furniture({**old_furniture("wing", ""), **wrong})
