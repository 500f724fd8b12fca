"""Every kind, in each of its variants, goes through survey and strip by its pages, is printed, and goes back on."""

from __future__ import annotations

import io
import re

import pytest
from pypdf import PdfReader

from tests.web.conftest import found
from zonatome.core.strip.order import comes_with, thing_name, things
from zonatome.core.survey.kinds import KINDS
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.strip.way_back import way_back_of

MAKES = [(k.key, "") for k in KINDS.values()] + [(k.key, v.key) for k in KINDS.values() for v in k.variants]


@pytest.mark.parametrize(("kind", "variant"), MAKES, ids=["+".join(filter(None, m)) for m in MAKES])
def test_it_is_stripped_press_by_press_and_the_record_is_the_way_back(bench, kind, variant):
    made = {"title": "A thing", "client": "Oriel House", "kind": kind, "count": "1"}
    bench.post("/tags/new/", made | ({"variant": f"{kind}:{variant}"} if variant else {}))
    job = Job.objects.get()
    base = f"/tags/{job.number}/"
    found(bench, job, "frame_loose", "support_slack", "filling_flat", "cover_worn")
    names, kind_of_job = [], load_job(job.number).kind
    while True:
        page = bench.get(base + "strip/").content.decode()
        if "Off next" not in page:
            break
        key = re.search(r'id="off">.*?name="part" value="(\w+)"', page, re.S)[1]
        names.append(thing_name(kind_of_job, comes_with(kind_of_job, key)))
        assert f'<span class="underlined">{names[-1].lower()}</span>' in page
        assert bench.post(base + "strip/off/", {"part": key}).status_code == 302
        if not variant:  # a variant is marked as its kind is
            bench.post(f"{base}strip/parts/{key}/marked/")
    fresh = load_job(job.number)
    assert len(fresh.kind.parts) == len(fresh.off_keys)
    assert len(names) == len(things(fresh.kind, fresh.off_keys)), "a sewn cover comes off as one thing"
    back = [line["back"].name for line in way_back_of(fresh)]
    assert back == names[::-1]
    assert "All off" in page

    # each panel of the drawing can be reached, says its name and how it stands
    links = re.findall(r'<a href="\?part=(\w+)" data-x[^>]*aria-label="([^"]+)"', page)
    assert {key for key, _ in links} == {p.key for p in fresh.kind.parts if p.is_cut}
    assert all(re.search(r": off, number \d+\b", words) for _, words in links)

    words = "\n".join(
        p.extract_text() for p in PdfReader(io.BytesIO(bench.get(base + "strip/record.pdf").content)).pages
    )
    for part in fresh.kind.parts:
        assert part.name in words
    for room in ("trace", "pad", "fasten", "trim", "finish", "money", "strip/look", "survey/panels", "survey/restyle"):
        assert bench.get(f"{base}{room}/", follow=True).status_code == 200, room
    bench.post(base + "finish/all-on/")
    assert all(line["is_on"] for line in way_back_of(load_job(job.number)))
