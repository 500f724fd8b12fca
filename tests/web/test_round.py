"""The furniture in the round on its pages: pictures, the model, its measures, the client's page and paper."""

from __future__ import annotations

import io
import json
import re
import struct
import zipfile
from itertools import pairwise

import pytest
from django.core.cache import cache
from django.core.files.base import ContentFile
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone
from PIL import Image
from pypdf import PdfReader

from tests.web.conftest import block, found, pad
from zonatome.core.body.views import VIEWS
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth
from zonatome.web.lay.services import add_cloth
from zonatome.web.lay.trials import start_trials
from zonatome.web.round import services
from zonatome.web.shop.models import SentQuote
from zonatome.web.shop.quotes import link_of
from zonatome.web.strip.services import take_off
from zonatome.web.trace.services import held_as_panel, keep_new_shape


@pytest.fixture(autouse=True)
def _fresh_cache():
    cache.clear()


@pytest.fixture
def gannet(db) -> Cloth:
    """A cloth with a half drop, its colour said."""
    return Cloth.objects.create(
        name="Gannet", width=1400, selvage=12, direction="one_way", price="61.00", sold_by="half", pattern="half_drop",
        repeat_along=320, repeat_across=344, first_along=110, first_across=184, colour="#1f6f73",
    )  # fmt: skip


def hung(kind: str, *, shaped: bool = False, variants: tuple[str, ...] = (), count: int = 1) -> Job:
    """A tag of a kind; with the usual shapes where that is asked for."""
    job = hang_tag(title=KINDS[kind].name[:40], client="Oriel House", kind=kind, count=count, variants=variants)
    if shaped:
        for part in load_job(job.number).panels():
            keep_new_shape(part, held_as_panel(part, usual_shape(part.part)), "rectangle")
    return load_job(job.number)


def colours(svg: str, key: str) -> set[str]:
    """The colours of the faces of a panel on a picture whose faces say of which they are."""
    found = [piece for piece in svg.split("<path ") if f'data-part="{key}"' in piece]
    return {piece.split('fill="')[1].split('"')[0] for piece in found} - {"none"}


def document_of(glb: bytes) -> dict:
    assert glb[:4] == b"glTF"
    return json.loads(glb[20 : 20 + struct.unpack("<I", glb[12:16])[0]])


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_has_its_page_its_pictures_and_its_file(bench, kind):
    job = hung(kind)
    page = bench.get(f"/tags/{job.number}/round/").content.decode()
    assert "In the round" in page
    assert "No cloth chosen yet" in page
    assert "No panel has a shape yet" in page
    for key in services.usual_measures(job.kind):
        assert f'name="{key}"' in page
    view = VIEWS[len(kind) % len(VIEWS)]
    svg = bench.get(f"/tags/{job.number}/round/picture.svg?view={view.key}")
    assert svg["Content-Type"] == "image/svg+xml"
    assert f"<title>{job.name}, {view.name}</title>" in svg.content.decode()
    told = document_of(bench.get(f"/tags/{job.number}/round/furniture.glb").content)
    assert {n["name"] for n in told["nodes"]} >= {p.key for p in job.kind.parts if p.is_cut}
    assert len(bench.get(f"/tags/{job.number}/round/tag.svg").content) < 40_000
    assert bench.get(f"/kinds/{kind}.svg").status_code == 200


def test_a_kind_s_picture_follows_its_make_and_odd_ones_are_answered_in_words(bench):
    usual, skirted = (bench.get("/kinds/ottoman.svg", {"makes": m}).content for m in ("", "skirt"))
    assert usual != skirted
    chairs = [
        bench.get("/kinds/wing.svg", {"makes": m}).content for m in ("", "no_cushion", "no_wings", "recessed_back")
    ]
    assert len(set(chairs[:3])) == 3
    assert bench.get("/kinds/sofa.svg").status_code == 404
    both = bench.get("/kinds/ottoman.svg", {"makes": "skirt,wrapped"})  # they can't stand beside each other
    assert both.content == skirted
    for odd in ("sail", "skirt,sail", "x" * 500):
        answer = bench.get("/kinds/ottoman.svg", {"makes": odd})
        assert answer.status_code == 422
        assert b"xpected" in answer.content


def test_what_is_off_is_bare_until_it_is_on_again_and_the_tag_s_picture_follows(bench, gannet):
    job = hung("wing")
    at = f"/tags/{job.number}/round/"
    first = bench.get(f"{at}tag.svg")
    assert bench.get(f"{at}tag.svg", HTTP_IF_NONE_MATCH=first["ETag"]).status_code == 304
    on_the_rack = re.compile(rf'src="({at}tag.svg[^"]+)"')
    address = on_the_rack.search(bench.get("/").content.decode())[1]
    assert "immutable" in bench.get(address)["Cache-Control"]  # a browser that has it does not ask for it again
    whole = bench.get(f"{at}picture.svg?view=back").content.decode()
    for key in ("feet", "bottom_cloth", "outside_back", "back_welt", "outside_arm_left", "outside_arm_right"):
        take_off(load_job(job.number), key, fixing="staples", note="")
    bare = bench.get(f"{at}picture.svg?view=back").content.decode()
    assert not colours(whole, "outside_back") & colours(bare, "outside_back")
    assert colours(whole, "outside_wing_left") == colours(bare, "outside_wing_left")
    assert on_the_rack.search(bench.get("/").content.decode())[1] != address
    assert bench.get(address)["Cache-Control"] == "private, no-cache"  # it is not what this address stood for
    again = bench.get(f"{at}tag.svg", HTTP_IF_NONE_MATCH=first["ETag"])
    assert again.status_code == 200
    assert again.content != first.content
    off = {
        n["name"]
        for n in document_of(bench.get(f"{at}furniture.glb").content)["nodes"]
        if n.get("extras", {}).get("off")
    }
    assert {"outside_back", "bare of outside_back"} <= off
    job.parts.filter(key="outside_back").update(on_again=True)
    Job.objects.filter(pk=job.pk).forget_kept()
    assert colours(bench.get(f"{at}picture.svg?view=back").content.decode(), "outside_back") == colours(
        whole, "outside_back"
    )
    rack = bench.get("/").content.decode()
    assert f"{at}tag.svg?v=" in rack


def test_under_what_is_off_lie_webbing_and_then_the_layers_that_were_chosen(bench, stool):
    chair = hung("armchair")
    assert set(services.under_now(chair).values()) == {"foam"}  # its loose cushion
    found(bench, chair, "filling_crumbles")
    assert set(services.under_now(load_job(chair.number))) >= {"seat", "inside_back", "inside_arm_left"}
    assert services.under_now(load_job(chair.number))["seat"] == "webbing"
    assert "outside_back" not in services.under_now(load_job(chair.number))  # nothing is padded there
    block(bench, stool)
    pad(bench, stool)
    assert services.under_now(load_job(stool.number)) == {"seat": "wadding"}
    pad(bench, stool, wadding="0")
    for key in ("screws", "bottom_cloth", "seat"):
        take_off(load_job(stool.number), key, fixing="staples", note="")
    first = bench.get(f"/tags/{stool.number}/round/picture.svg").content.decode()
    assert colours(first, "seat")
    assert services.off_now(load_job(stool.number)) == {"seat", "bottom_cloth", "screws"}
    Job.objects.filter(pk=stool.pk).update(finished_at=timezone.now())
    assert services.off_now(load_job(stool.number)) == frozenset()


def test_the_view_that_shows_a_panel_is_found_and_tones_are_taken_or_passed_over(bench):
    job = hung("wing")
    at = f"/tags/{job.number}/round/picture.svg"
    for key, view in (
        ("outside_wing_left", "left"),
        ("outside_back", "back"),
        ("bottom_cloth", "below"),
        ("seat", "above"),
    ):
        assert bench.get(at, {"show": key})["X-View"] == view
    plain = bench.get(at, {"view": "left"}).content.decode()
    marked = bench.get(at, {"view": "left", "tones": "outside_wing_left:next,outside_arm_left:off,sail:next,seat:<b>"})
    assert not colours(plain, "outside_wing_left") & colours(marked.content.decode(), "outside_wing_left")
    assert not colours(plain, "outside_arm_left") & colours(marked.content.decode(), "outside_arm_left")
    for odd in ({"view": "moon"}, {"show": "sail"}, {"view": "<script>"}):
        answer = bench.get(at, odd)
        assert answer.status_code == 422
        assert answer["Content-Type"].startswith("text/plain")
    for missing in ({"of": "9", "cloth": "9"}, {"hand": "77"}, {"of": "x"}, {"cloth": "9" * 40}):
        assert bench.get(at, missing).status_code == 404
    assert bench.get(at, {"tones": ",:,::" * 4000, "piece": "-3"}).status_code == 200
    assert bench.get("/tags/9999/round/").status_code == 404


def test_it_wears_its_cloth_as_the_lay_cuts_it_and_a_cloth_on_trial_beside(bench, stool, gannet, skerry):
    block(bench, stool)
    cloth = add_cloth(load_job(stool.number), gannet, "main")
    before = services.worn_by(load_job(stool.number)).dress.pieces["seat"]
    assert before.look.ground == (31, 111, 115)
    assert not before.look.has_pile  # it lies one way for its motif
    assert services.look_of(Cloth(direction="one_way", width=1400)).has_pile
    bench.post(f"/tags/{stool.number}/lay/{cloth.pk}/start/", {"seconds": "1"})
    job = load_job(stool.number)
    placed = [services.worn_by(job, piece=n).dress.pieces["seat"] for n in range(1, 5)]
    origins = {tuple(round(v) for v in p.onto[4:]) for p in placed}
    assert len(origins) > 1  # each of the four is cut from another place
    for piece in placed:  # and on each the motif's middle is the seat's
        x, y = piece.on_roll(services.body_of_job(job).by_key["seat"].flat[0, 0] * 0)
        off = gannet.repeat.off((float(x), float(y)), along=True, across=True)
        assert max(off) < 0.5
    assert "furniture.glb?piece=3" in bench.get(f"/tags/{stool.number}/round/?piece=3").content.decode()
    assert "furniture.glb?piece=4" in bench.get(f"/tags/{stool.number}/round/?piece=99").content.decode()
    start_trials(load_job(stool.number).cloths.get())
    load_job(stool.number).cloths.get().trials.update(state="done")
    page = bench.get(f"/tags/{stool.number}/lay/{cloth.pk}/seen/").content.decode()
    assert "Skerry" in page
    assert f"?of={cloth.pk}&amp;cloth={skerry.pk}" in page
    at = f"/tags/{stool.number}/round/picture.svg"
    tried = bench.get(at, {"of": cloth.pk, "cloth": skerry.pk}).content.decode()
    assert not colours(tried, "seat") & colours(bench.get(at).content.decode(), "seat")


def test_a_lay_under_the_hand_is_seen_on_the_furniture_at_every_move(bench, stool, gannet):
    block(bench, stool)
    cloth = add_cloth(load_job(stool.number), gannet, "main")
    bench.post(f"/tags/{stool.number}/lay/{cloth.pk}/start/", {"seconds": "1"})
    hand = f"/tags/{stool.number}/lay/{cloth.pk}/hand/"
    assert f"?hand={cloth.pk}" in bench.get(hand).content.decode()
    at = f"/tags/{stool.number}/round/"
    seen = [bench.get(f"{at}picture.svg?hand={cloth.pk}").content]
    for along in (7, 40):
        bench.post(f"{hand}do/", {"act": "nudge", "key": "seat.1", "along": along, "across": 0})
        answer = bench.get(f"{at}picture.svg?hand={cloth.pk}")
        assert answer["Cache-Control"] == "no-store"
        seen.append(answer.content)
    assert all(a != b for a, b in pairwise(seen))
    stands = bench.get(f"{at}picture.svg").content
    bench.post(f"{hand}do/", {"act": "undo"})
    assert bench.get(f"{at}picture.svg").content == stands
    glbs = [document_of(bench.get(f"{at}furniture.glb{q}").content) for q in ("", f"?hand={cloth.pk}")]
    assert glbs[0]["meshes"][0]["name"] == glbs[1]["meshes"][0]["name"] == "seat"


def test_measures_are_typed_refused_in_words_kept_and_taken_along(bench):
    job = hung("wing")
    at = f"/tags/{job.number}/round/"
    assert bench.post(f"{at}measures/", {"leg": "22", "rake": "17"}).status_code == 302
    fresh = load_job(job.number)
    assert fresh.body_measures == {"leg": 220.0, "rake": 17.0}
    low = services.body_of_job(fresh).by_key["bottom_cloth"].points[:, :, 2].min()
    assert low == pytest.approx(221, abs=3)
    page = bench.get(at).content.decode()
    assert 'value="22"' in page
    for odd, said in (
        ({"leg": "2 miles"}, "Type a length such as"), ({"leg": "300"}, "too much: at most 80 cm"),
        ({"rake": "89"}, "less than or equal to 40"), ({"rake": "nan"}, "Enter a number"),
        ({"wing_lean": "-4"}, 'role="alert"'), ({"leg": "9" * 400}, 'role="alert"'),
    ):  # fmt: skip
        answer = bench.post(f"{at}measures/", odd)
        assert answer.status_code == 422
        assert said in answer.content.decode().split("Measures of the furniture")[1], odd
        assert load_job(job.number).body_measures == {"leg": 220.0, "rake": 17.0}
    assert bench.get(f"{at}measures/").status_code == 405
    bench.post("/units/", {"units": "imperial", "back": at})
    inches = bench.get(at).content.decode()
    assert re.search(r"usual 6 (5/8|11/16|3/4) in", inches), re.findall("usual [^<]*", inches)
    assert " mm" not in inches.split("Measures of the furniture")[1].split("</form>")[0]
    assert bench.post(f"{at}measures/", {"leg": "9"}).status_code == 302
    assert load_job(job.number).body_measures == {"leg": pytest.approx(228.6)}
    content = b"".join(bench.get(f"/tags/{job.number}/tag.zip").streaming_content)
    bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", content)})
    assert Job.objects.order_by("-number").first().body_measures == {"leg": pytest.approx(228.6)}
    for odd in ({"leg": "high"}, [1, 2], {"leg": 1e9}, {"rake": True}):
        twice = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(twice, "w") as new:
            for name in old.namelist():
                told = old.read(name)
                if name == "job.json":
                    document = json.loads(told)
                    holder = document.get("job", document)
                    assert "body_measures" in holder
                    holder["body_measures"] = odd
                    told = json.dumps(document).encode()
                new.writestr(name, told)
        count = Job.objects.count()
        answer = bench.post("/tags/bring-in/", {"file": SimpleUploadedFile("tag.zip", twice.getvalue())})
        assert answer.status_code < 500
        if answer.status_code == 302:  # what is not known is passed over; the rooms open
            assert bench.get(f"/tags/{Job.objects.order_by('-number').first().number}/round/").status_code == 200
        else:
            assert Job.objects.count() == count


def test_the_page_says_which_measure_to_take_where_shapes_and_furniture_differ(bench):
    job = hung("wing", shaped=True)
    at = f"/tags/{job.number}/round/"
    part = load_job(job.number).parts_by_key()["outside_wing_left"]
    wider = usual_shape(part.part).moved_by(lambda p: (p[0] * 1.4, p[1]))
    keep_new_shape(part, held_as_panel(part, wider), "rectangle")
    page = bench.get(at).content.decode()
    said = page.split("Does it agree with the shapes?")[1].split("</section>")[0]
    assert "Outside wing, left" in said
    assert "smaller than its finished shape" in said
    assert "measure thickness of the back and lean of the wings" in said


def test_a_cloth_has_a_colour_and_a_photo_of_its_repeat_is_worn(bench, stool, gannet, skerry):
    block(bench, stool)
    store = reverse("store:cloth", args=[skerry.pk])
    assert 'type="color"' in bench.get(store).content.decode()
    sent = {
        "name": "Skerry",
        "colour": "#102030",
        "width": "140",
        "selvage": "12",
        "direction": "two_way",
        "thickness": "1",
        "price": "30",
        "sold_in": "m",
        "sold_by": "half",
    }
    bench.post(store, {**sent, "colour": "red"})
    assert Cloth.objects.get(pk=skerry.pk).colour == ""
    bench.post(store, sent)
    assert Cloth.objects.get(pk=skerry.pk).seen_colour == "#102030"
    assert Cloth(pk=3).seen_colour != Cloth(pk=4).seen_colour
    photo = Image.new("RGB", (60, 60), (200, 40, 40))
    photo.paste((40, 40, 200), (0, 0, 30, 60))
    file = io.BytesIO()
    photo.save(file, "JPEG", quality=95)
    gannet.tile_photo.save("tile.jpg", ContentFile(file.getvalue()))
    add_cloth(load_job(stool.number), gannet, "main")
    worn = services.worn_by(load_job(stool.number))
    assert len(worn.dress.pieces["seat"].look.photo) > 4
    seen = colours(bench.get(f"/tags/{stool.number}/round/picture.svg").content.decode(), "seat")
    reds = [
        c for c in seen if int(c[1:3] if len(c) > 4 else c[1] * 2, 16) > int(c[5:7] if len(c) > 4 else c[3] * 2, 16)
    ]
    assert reds
    assert len(reds) < len(seen)
    assert document_of(bench.get(f"/tags/{stool.number}/round/furniture.glb").content)["images"]
    gannet.tile_photo.storage.delete(gannet.tile_photo.name)
    cache.clear()
    assert (
        bench.get(f"/tags/{stool.number}/round/picture.svg").status_code == 200
    )  # its file is gone: the motif is drawn


def test_the_client_sees_it_whole_on_the_page_and_on_the_paper(bench, client, stool, skerry):
    block(bench, stool)
    pad(bench, stool)
    add_cloth(load_job(stool.number), skerry, "main")
    take_off(load_job(stool.number), "screws", fixing="screws", note="")
    take_off(load_job(stool.number), "bottom_cloth", fixing="staples", note="")
    take_off(load_job(stool.number), "seat", fixing="staples", note="")
    bench.post(f"/tags/{stool.number}/money/quote/send/", {"with": ["as_planned"]})
    sent = SentQuote.objects.get()
    bench.logout()
    page = client.get(link_of(sent)).content.decode()
    assert page.count('<div class="client-round">') == 3
    assert page.count("<svg") >= 3
    assert "As it will look" in page
    drawn = page.split('<div class="client-round">')[1].split("</svg>")[0]
    worn = services.worn_by(load_job(stool.number)).dress.pieces["seat"].look.ground
    shades = {
        tuple(int(c[k : k + 2], 16) for k in (1, 3, 5))
        for c in set(drawn.split('"'))
        if c.startswith("#") and len(c) == 7
    }
    ratio = [
        s
        for s in shades
        if abs(s[0] / max(s[2], 1) - worn[0] / worn[2]) < 0.06 and abs(s[1] / max(s[2], 1) - worn[1] / worn[2]) < 0.06
    ]
    assert ratio  # in its cloth, though its seat is off just now
    paper = PdfReader(io.BytesIO(client.get(link_of(sent) + "quote.pdf").content))
    assert "As it will look" in "".join(p.extract_text() for p in paper.pages)
    assert paper.pages[0].get_contents().get_data().count(b" l") > 300  # drawn, not a photo


def test_trims_stand_there_as_they_were_chosen_and_each_page_leads_to_what_is_pressed(bench):
    chair = hung("show_wood", shaped=True)
    at = f"/tags/{chair.number}/"
    usual = services.body_of_job(load_job(chair.number)).lines
    assert {line.sort for line in usual} == {"double_welt"}
    bench.post(f"{at}trim/", {"kind": "nails", "cord": "4", "cloth": ""})
    job = load_job(chair.number)
    Job.objects.filter(pk=job.pk).update(trim_kind="nails")
    assert services.body_of_job(load_job(chair.number)).lines == ()  # none is on the list yet
    bench.post(reverse("trim:line", args=[chair.number]), {"offer": "all"})
    job = load_job(chair.number)
    nailed = services.body_of_job(job).lines
    assert {line.sort for line in nailed} == {"nails"}
    assert len(nailed) == len(usual)
    seat = next(line for line in nailed if line.panel == "seat")
    row = job.trim_lines.get(key="seat")
    assert len(seat.points) == pytest.approx(row.length / row.head, rel=0.15)  # heads that touch
    picture = bench.get(f"{at}round/picture.svg?view=front").content.decode()
    assert picture.count("h.1") > 100
    row = job.trim_lines.get(key="seat")
    row.kind = "gimp"
    row.save()
    assert {line.sort for line in services.body_of_job(load_job(chair.number)).lines} == {"nails", "gimp"}
    Job.objects.filter(pk=job.pk).update(trim_kind="none")
    assert services.body_of_job(load_job(chair.number)).lines == ()
    for path, key in (("trace/seat/", "inside_back"), ("pad/seat/", "arm_pad_left"), ("fasten/seat/", "outside_back")):
        page = bench.get(at + path).content.decode()
        assert re.search(rf'data-round-pick="[^"]*\b{key}\b', page), path
        assert 'x-data="inTheRound"' in page
    for path in ("survey/", "strip/", "lay/", "trim/", "finish/", "money/", "log/"):
        assert 'x-data="inTheRound"' in bench.get(at + path).content.decode(), path


def test_its_pages_need_the_sign_in_and_ask_the_store_a_fixed_number_of_times(
    bench, client, django_assert_max_num_queries
):
    job = hung("wing", shaped=True)
    with django_assert_max_num_queries(45):
        bench.get(f"/tags/{job.number}/round/picture.svg")
    bench.logout()
    for path in ("", "picture.svg", "tag.svg", "furniture.glb"):
        assert client.get(f"/tags/{job.number}/round/{path}").status_code == 302
    assert client.get("/kinds/wing.svg").status_code == 302
