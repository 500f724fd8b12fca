"""The sample workroom: Quayside Workroom, its cloths and its tags, each at another step. All of it is made up.

Everything is made through the same services as the pages.
"""

from __future__ import annotations

from concurrent.futures import Future, ThreadPoolExecutor
from datetime import timedelta
from decimal import Decimal
from pathlib import Path

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from zonatome.core.outline import outline_of, rectangle
from zonatome.core.pad.layers import PadChoice
from zonatome.core.strip.order import things, usual_order
from zonatome.core.strip.record import marks_for
from zonatome.core.survey.findings import finding_named
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.partners import mended, seams_of
from zonatome.core.trace.take_up import TakenUp, taken_up
from zonatome.core.trace.usual import usual_shape
from zonatome.standins.bench_camera import Shot
from zonatome.web.demo.pictures import picture_of
from zonatome.web.fasten.models import KeepOutMark
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Wait, Workroom
from zonatome.web.jobs.photos import keep_photo
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, CutTick, JobCloth, LayRun, Remnant
from zonatome.web.lay.services import add_cloth, best_run, start_lay
from zonatome.web.lay.tasks import search_for_lay
from zonatome.web.pad.services import set_board, set_pad
from zonatome.web.strip.models import Spell
from zonatome.web.strip.services import (
    Written,
    keep_thing,
    learn_pace,
    note_difference,
    set_bag,
    set_piece_off,
    take_off,
    write_down,
)
from zonatome.web.survey.models import LayerFinding
from zonatome.web.trace.acts import ACTS
from zonatome.web.trace.changes import change_shapes
from zonatome.web.trace.models import ShapeChange
from zonatome.web.trace.restyle import restyle
from zonatome.web.trace.services import (
    held_as_panel,
    keep_new_shape,
    keep_shape,
    keep_taken,
    plan_staples,
    set_block,
    shape_by_tape,
    shape_from_photo,
    shape_of_part,
    shapes_of,
)
from zonatome.web.trim.models import TrimLine

BAGS = {
    "feet": ("4 feet, 12 screws", "front left and right, back left and right"),
    "arm_screws": ("6 screws, long", "arm pads, from below"),
    "shell_seat": ("4 screws", "seat shell"),
}
NAME = "ines"
PASSWORD = "quayside"  # noqa: S105 made up, and said on the page
SOUND = ("frame_sound", "support_sound", "filling_flat", "cover_worn")


def load_sample() -> None:
    """Load the sample workroom into an empty store."""
    with ThreadPoolExecutor(2) as pool, transaction.atomic():
        taken = {place: pool.submit(_taken, *place) for place in SHOTS}
        workroom = Workroom.the_one()
        workroom.name, workroom.units, workroom.currency = "Quayside Workroom", "metric", "€"
        workroom.save()
        User.objects.create_user(NAME, password=PASSWORD, is_staff=True)
        User.objects.create_user("tomas", password=PASSWORD)
        cloths = _cloths()
        _foyer_chairs(cloths, taken)
        _round_stool(cloths, taken)
        _window_bench(cloths, taken)
        _reading_chair(cloths, taken)
        _ottomans(cloths, taken)
        _wing_chair(cloths, taken)
        _desk_chair()
        _bar_stools(cloths, taken)
        _library_wing_chair(cloths)
        ShapeChange.objects.all().delete()  # how the sample was made is nobody's to take back


def _cloths() -> dict[str, Cloth]:
    rows = [
        Cloth(
            name="Skerry, slate",
            width=1400,
            selvage=12,
            direction="two_way",
            thickness=1.1,
            price=Decimal("34.50"),
            sold_by="tenth",
            certified="cigarette and match tests, by the maker",
        ),
        Cloth(
            name="Skerry, oat",
            width=1400,
            selvage=12,
            direction="two_way",
            thickness=1.1,
            price=Decimal("34.50"),
            sold_by="tenth",
        ),
        Cloth(
            name="Tern, velvet",
            width=1380,
            selvage=10,
            direction="one_way",
            thickness=1.8,
            price=Decimal("52.00"),
            sold_by="half",
        ),
        Cloth(
            name="Bollard, vinyl",
            width=1370,
            selvage=8,
            direction="any",
            thickness=1.2,
            price=Decimal("27.80"),
            sold_by="half",
            certified="match test, by the maker",
        ),
        Cloth(
            name="Gannet, teal",
            width=1400,
            selvage=12,
            direction="one_way",
            pattern="half_drop",
            repeat_along=320,
            repeat_across=344,
            first_along=110,
            first_across=184,
            thickness=1.2,
            price=Decimal("61.00"),
            sold_by="half",
        ),
        Cloth(
            name="Marram, sand",
            width=1380,
            selvage=10,
            direction="two_way",
            pattern="stripe",
            repeat_across=96,
            first_across=74,
            thickness=0.9,
            price=Decimal("38.20"),
            sold_by="tenth",
        ),
        Cloth(
            name="Saltmarsh hide",
            width=1800,
            selvage=0,
            direction="any",
            thickness=1.3,
            price=Decimal("78.00"),
            is_hide=True,
            wear="scratches show, and soften",
        ),
        Cloth(
            name="Deck cotton",
            width=1500,
            selvage=10,
            direction="two_way",
            thickness=0.8,
            price=Decimal("9.40"),
            sold_by="tenth",
        ),
    ]
    for row in rows:
        row.save()
    cloths = {row.name: row for row in rows}
    _in_the_store(cloths)
    return cloths


HIDES = (  # outlines as they lie, neck toward x = 0, and their marks: a brand, a hole, a thin belly
    (
        [
            (0, 620),
            (120, 480),
            (420, 300),
            (700, 90),
            (1050, 60),
            (1500, 130),
            (1950, 40),
            (2180, 210),
            (2260, 560),
            (2330, 960),
            (2230, 1330),
            (2120, 1660),
            (1700, 1790),
            (1300, 1700),
            (900, 1810),
            (520, 1640),
            (260, 1400),
            (90, 1120),
            (20, 880),
        ],
        [rectangle(130, 110).moved(1820, 1380), rectangle(46, 40).moved(640, 560)],
    ),
    (
        [
            (0, 540),
            (180, 330),
            (560, 210),
            (880, 40),
            (1320, 90),
            (1740, 20),
            (2020, 260),
            (2090, 700),
            (2010, 1180),
            (1880, 1500),
            (1420, 1580),
            (1010, 1490),
            (600, 1560),
            (300, 1330),
            (80, 1010),
        ],
        [rectangle(300, 150).moved(980, 100)],
    ),
)  # fmt: skip


def _in_the_store(cloths: dict[str, Cloth]) -> None:
    """Hides, remnants and a curtain length, as they lie on the shelf."""
    for points, marks in HIDES:
        flaws = [[list(p) for p in mark.points] for mark in marks]
        Remnant.objects.create(
            cloth=cloths["Saltmarsh hide"], kind="hide", outline=points, flaws=flaws, words="on the horse by the window"
        )
    slate = [(0, 0), (900, 0), (900, 560), (620, 560), (620, 1376), (0, 1376)]
    Remnant.objects.create(cloth=cloths["Skerry, slate"], outline=slate, words="shelf 2")
    curtain = [list(p) for p in rectangle(2100, 1180).points]
    Remnant.objects.create(
        cloth=cloths["Deck cotton"], kind="length", outline=curtain, words="an old curtain, hems cut off"
    )


def _tag(number: int, days: int, **rest: object) -> Job:
    job = hang_tag(number=number, due=timezone.localdate() + timedelta(days=days), **rest)  # type: ignore[arg-type]
    return load_job(job.number)


def _findings(job: Job, *keys: str) -> None:
    for key in keys:
        LayerFinding.objects.create(job=job, layer=finding_named(key).layer, finding=key)


def _strip(job: Job, *, most: int = 99, notes: dict[str, str] | None = None, unmarked: tuple[str, ...] = ()) -> None:
    """Take things off in the usual order, each with its marks and what is in its bag."""
    for group in things(job.kind, usual_order(job.kind))[:most]:
        take_off(load_job(job.number), group[0])
        for key in group:
            row = load_job(job.number).parts_by_key()[key]
            marks = () if key in unmarked else tuple(m.key for m in marks_for(job.kind, row.part))
            write_down(row, Written(note=(notes or {}).get(key, ""), marks=marks), version=None)
    for bag in load_job(job.number).bags.all():
        contents, came_from = BAGS.get(
            bag.part.key if bag.part else "", ("4 screws, 4 washers", "under the seat rails")
        )
        set_bag(load_job(job.number), bag.number, contents=contents, came_from=came_from)


def _tape(job: Job, key: str, way: str, *, pair: bool = False, **measures: float) -> None:
    part = load_job(job.number).parts_by_key()[key]
    keep_new_shape(part, shape_by_tape(part, way, measures), way, pair=pair)


MAT = Mat(1200, 800)
SEARCHED = 2.0  # seconds, for the lays that are cut already
SHOTS: dict[tuple[int, str], Shot] = {  # the old covers that have been photographed on the mat, by tag and panel
    (118, "inside_back"): Shot("inside back", "pale oat", "grey board", tilt=9, width=1600),
    (119, "top"): Shot("stool top", "woven rust", "kraft paper", tilt=6, width=1600),
    (121, "boxing_end_left"): Shot("end, oblong", "plain teal", "wood", tilt=8, width=1600),
    (122, "inside_back"): Shot("inside back", "woven rust", "grey board", tilt=12, width=1600),
    (123, "end_left"): Shot("end, oblong", "pale oat", "dark mat", tilt=10, width=1600),
    (124, "outside_back"): Shot("inside back", "woven rust", "wood", tilt=11, shadow=True),
    (127, "seat"): Shot("stool, square", "plain teal", "kraft paper", tilt=10, width=1600),
}


def photo_file(number: int, key: str) -> Path:
    """Return where the photo of a sample cover lies: taken by the bench camera's stand-in, see
    bench/sample_photos.py.
    """
    return Path(__file__).parent / "covers" / f"{number}-{key}.jpg"


def _taken(number: int, key: str) -> TakenUp:
    return taken_up(photo_file(number, key).read_bytes(), MAT)


def _from_photo(job: Job, key: str, taken: dict[tuple[int, str], Future[TakenUp]], *, keep: bool = False) -> None:
    """Keep the photo of an old cover by the bench camera's stand-in; `keep` makes the traced outline the panel's
    shape.
    """
    part = load_job(job.number).parts_by_key()[key]
    photo = keep_taken(part, taken[job.number, key].result())
    if keep:
        keep_new_shape(part, shape_from_photo(part, outline_of(photo.outline), 0), "photo")


def _agree(job: Job) -> None:
    """Mend the seams one after the other, as one does at the bench: lengths follow the first panel, notches are put on
    both.
    """
    for _ in range(3):
        for seam in seams_of(job.kind, shapes_of(load_job(job.number))):
            fresh = load_job(job.number)
            shapes = shapes_of(fresh)
            now = next((s for s in seams_of(fresh.kind, shapes) if s.key == seam.key), None)
            for finding in now.findings if now else ():
                made = mended(now, shapes, finding.mends[0][0])  # type: ignore[arg-type]
                rows = fresh.parts_by_key()
                change_shapes(fresh, {key: (shape, rows[key].shape_way) for key, shape in made.items()}, "seams mended")
                shapes |= made


def _mirror(job: Job, key: str) -> None:
    part = load_job(job.number).parts_by_key()[key]
    keep_shape(part, shape_of_part(part), part.shape_way, pair=True)


def _photos(job: Job, rows: list[tuple[str, str, str]]) -> None:
    """Keep made-up photos, drawn for the sample workroom."""
    parts = job.parts_by_key()
    for n, (when, key, words) in enumerate(rows):
        keep_photo(job, when, picture_of(words, n), part=parts.get(key), words=words)


def _timed(job: Job, rows: list[tuple[str, int, int]]) -> None:
    """Timed spells at pulling: part, minutes, staples."""
    now = timezone.now() - timedelta(days=1)
    for key, minutes, staples in rows:
        part = job.parts_by_key()[key]
        Spell.objects.create(job=job, part=part, began=now, ended=now + timedelta(minutes=minutes), staples=staples)
        now += timedelta(minutes=minutes + 6)
    learn_pace()


def _lay(job: Job, name: str, *, seconds: float = 12.0) -> JobCloth:
    fresh = load_job(job.number)
    job_cloth = next(c for c in fresh.cloths.all() if c.cloth.name == name)
    start_lay(job_cloth, seconds=seconds)
    return job_cloth


def _cut_all(job: Job) -> None:
    """Search for a moment, as one does before the shears, and cut everything of what was found."""
    for run in LayRun.objects.filter(job_cloth__job=job, state="waiting"):
        LayRun.objects.filter(pk=run.pk).update(seconds=SEARCHED)
        search_for_lay.func(run.pk)
    for job_cloth in load_job(job.number).cloths.all():
        best = best_run(job_cloth)
        if best:
            CutTick.objects.bulk_create(CutTick(run=best, key=f"{p.piece}.{p.copy}") for p in best.lay().placements)
            LayRun.objects.filter(pk=run.pk).update(state="done", progress=1.0, ended_at=timezone.now())


def _foyer_chairs(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        118,
        16,
        title="Foyer side chairs",
        client="Lantern Street Playhouse",
        kind="side_chair",
        count=6,
        wish="Same again, welt at the seams, outside back in oat.",
    )
    _findings(job, "frame_loose", "support_slack", "filling_flat", "cover_worn")
    _strip(job, notes={"seat": "centre notch front and back", "outside_back": "top marked, stitched shut by hand"})
    for number, words in ((3, "left rail patched"), (5, "one web torn out")):
        note_difference(load_job(118), number, words)
    for number in (2, 3):
        set_piece_off(load_job(118), number, is_off=True)
    _photos(
        load_job(118),
        [("before", "", "the whole"), ("strip", "seat", "corner"), ("strip", "outside_back", "tack strip")],
    )
    add_cloth(job, cloths["Skerry, slate"], "main")
    JobCloth.objects.create(job=job, cloth=cloths["Skerry, oat"], role="contrast")
    restyle(load_job(118), "contrast", {"parts": ["outside_back"]})
    _tape(job, "seat", "trapezoid", bottom=490, top=430, height=640)
    _from_photo(job, "inside_back", taken, keep=True)
    _tape(job, "outside_back", "trapezoid", bottom=440, top=415, height=750)
    _tape(job, "side_left", "rectangle", pair=True, width=450, height=190)
    _agree(job)
    set_board(
        load_job(118).parts_by_key()["seat"], board_width=440, board_back=390, board_depth=420, board_thickness=22
    )
    fresh = load_job(118)
    fresh.trim_kind, fresh.trim_cloth = "welt", fresh.cloths.first()
    fresh.save()
    TrimLine.objects.create(job=fresh, name="Back edge, over the top", length=1580)
    _lay(job, "Skerry, oat", seconds=4)
    _lay(job, "Skerry, slate", seconds=15)


def _round_stool(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        119,
        16,
        title="Prompter’s round stool",
        client="Lantern Street Playhouse",
        kind="round_stool",
        wish="Firm, and quiet when one turns on it.",
    )
    _findings(job, *SOUND)
    _strip(job)
    add_cloth(job, cloths["Tern, velvet"], "main")
    _from_photo(job, "top", taken)
    set_block(
        load_job(119).parts_by_key()["top"], board_width=340, board_depth=340, board_thickness=18, pad=45, wrap=50
    )
    set_pad(load_job(119).parts_by_key()["top"], PadChoice(foam=50, wadding=10))
    _lay(job, "Tern, velvet", seconds=3)
    _cut_all(job)
    top = load_job(119).parts_by_key()["top"]
    for x, y in ((170, 60), (170, 280), (60, 170), (280, 170)):
        KeepOutMark.objects.create(part=top, x=x, y=y, radius=9)
    top = load_job(119).parts_by_key()["top"]
    plan_staples(top)
    top.staples_done = 22
    top.save()


def _window_bench(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        121,
        9,
        title="Window bench, 1.6 m",
        client="Harbour Reading Room",
        kind="bench_box",
        wish="A loose cushion with welt, firmer than before.",
    )
    _findings(job, "frame_sound", "support_sound", "filling_crumbles", "cover_worn")
    _strip(job)
    add_cloth(job, cloths["Skerry, slate"], "main")
    _tape(job, "top", "rectangle", width=1580, height=430)
    _tape(job, "bottom", "rectangle", width=1580, height=430)
    _tape(job, "boxing_front", "rectangle", width=1580, height=90)
    _tape(job, "boxing_end_left", "rectangle", pair=True, width=340, height=90)
    _tape(job, "zip_strip_upper", "rectangle", width=1760, height=45)
    _tape(job, "zip_strip_lower", "rectangle", width=1760, height=45)
    _from_photo(job, "boxing_end_left", taken)
    _agree(job)
    _mirror(job, "boxing_end_left")
    JobCloth.objects.filter(job=job).update(railroaded=True)
    set_board(load_job(121).parts_by_key()["top"], board_width=1580, board_depth=430, board_thickness=22)
    _lay(job, "Skerry, slate", seconds=6)
    _cut_all(job)
    now = timezone.localtime()
    evening = now.hour >= 16
    until = (now + timedelta(days=1)).replace(hour=11, minute=0) if evening else now + timedelta(minutes=85)
    Wait.objects.create(job=job, step="pad", words="foam glue sets", began=now - timedelta(minutes=35), until=until)


def _reading_chair(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        122,
        5,
        title="Reading chair",
        client="Harbour Reading Room",
        kind="show_wood",
        wish="Show wood oiled, gimp instead of nails.",
    )
    _findings(job, "frame_loose", "support_spring", "filling_flat", "cover_worn")
    _strip(job, notes={"seat": "cut round the arm posts, Y as wide as the post"})
    add_cloth(job, cloths["Gannet, teal"], "main")
    _tape(job, "seat", "trapezoid", bottom=580, top=500, height=560)
    _from_photo(job, "inside_back", taken, keep=True)
    _tape(job, "outside_back", "trapezoid", bottom=480, top=455, height=440)
    _tape(job, "arm_pad_left", "rounded", pair=True, width=115, height=290, radius=40)
    seat = load_job(122).parts_by_key()["seat"]
    set_board(seat, board_width=540, board_back=470, board_depth=520, board_thickness=30)
    set_pad(load_job(122).parts_by_key()["seat"], PadChoice(foam=60, wadding=10, webbing=True))
    _lay(job, "Gannet, teal", seconds=4)
    _cut_all(job)
    fresh = load_job(122)
    seat = fresh.parts_by_key()["seat"]
    seat.staples_done = seat.staples_planned
    seat.save()
    TrimLine.objects.create(job=fresh, name="Round the seat", length=2050, is_closed=True)
    TrimLine.objects.create(job=fresh, name="Round the back, both faces", length=1760, times=2, is_closed=True)
    fresh.trim_kind, fresh.trim_done, fresh.feet_done, fresh.underside_width, fresh.underside_depth = (
        "gimp",
        True,
        True,
        520,
        500,
    )
    fresh.save()
    fresh.parts.exclude(off_number=None).exclude(key="bottom_cloth").update(on_again=True)


def _ottomans(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        123,
        7,
        title="Ottomans",
        client="Marrow & Finch Tearoom",
        kind="ottoman",
        count=2,
        wish="Wipe clean; welt round the top.",
    )
    _findings(job, *SOUND)
    _strip(job)
    set_piece_off(load_job(123), 2, is_off=True)
    add_cloth(job, cloths["Bollard, vinyl"], "main")
    _tape(job, "top", "rectangle", width=570, height=470)
    _tape(job, "front", "rectangle", width=570, height=270)
    _tape(job, "back", "rectangle", width=570, height=270)
    _tape(job, "end_left", "rectangle", pair=True, width=470, height=270)
    _from_photo(job, "end_left", taken)
    _agree(job)
    set_board(load_job(123).parts_by_key()["top"], board_width=560, board_depth=460, board_thickness=18)
    set_pad(load_job(123).parts_by_key()["top"], PadChoice(foam=75, wadding=10))
    fresh = load_job(123)
    fresh.trim_kind, fresh.trim_cloth = "welt", fresh.cloths.first()
    fresh.underside_width, fresh.underside_depth = 560, 460
    fresh.save()
    TrimLine.objects.create(job=fresh, name="Round the top", length=2080, is_closed=True)
    _lay(job, "Bollard, vinyl", seconds=4)
    _cut_all(job)
    top = load_job(123).parts_by_key()["top"]
    top.staples_done = top.staples_planned * 2
    top.save()


def _wing_chair(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        124,
        22,
        title="Fireside wing chair",
        client="Oriel House",
        kind="wing",
        wish="Same again in velvet, cushion softer.",
    )
    _findings(job, "frame_sound", "support_hessian", "filling_thin", "cover_worn")
    _strip(
        job,
        most=8,
        notes={
            "outside_back": "fold at the lower corners, like a parcel",
            "outside_arm_left": "tack strip bent to the curve of the rail",
            "back_welt": "cord sound, 1.9 m",
        },
        unmarked=("outside_arm_right",),
    )
    add_cloth(job, cloths["Tern, velvet"], "main")
    fresh = load_job(124)
    by_key = fresh.parts_by_key()
    write_down(by_key["outside_back"], Written(fixings_again=("card strip", "gripper strip", "staples")), version=None)
    write_down(by_key["bottom_cloth"], Written(fate="reuse"), version=None)
    keep_thing(fresh, by_key["back_welt"], "welt cord", length=1900, words="5 mm, cotton")
    keep_thing(fresh, by_key["outside_back"], "tack strip", length=620, count=2, words="straight, all points")
    _photos(
        fresh,
        [("before", "", "the whole"), ("before", "front_band", "welt open at the left"),
         ("before", "inside_back", "worn through at the head"),
         ("strip", "outside_back", "tack strip"), ("strip", "outside_back", "corner"),
         ("strip", "outside_arm_left", "card strip"), ("strip", "feet", "corner")],
    )  # fmt: skip
    _from_photo(job, "outside_back", taken)
    _timed(fresh, [("bottom_cloth", 14, 92), ("outside_back", 9, 58), ("outside_arm_left", 8, 47)])


def _library_wing_chair(cloths: dict[str, Cloth]) -> None:
    job = _tag(
        125,
        30,
        title="Library wing chair",
        client="Oriel House",
        kind="wing",
        wish="Velvet, welt round the wings and the back.",
    )
    _findings(job, "frame_sound", "support_sound", "filling_flat", "cover_worn")
    _strip(job)
    add_cloth(job, cloths["Tern, velvet"], "main")
    for panel in load_job(125).kind.panels:
        row = load_job(125).parts_by_key()[panel.key]
        keep_new_shape(row, held_as_panel(row, usual_shape(panel)), "rectangle")
    _agree(job)
    # the roll is narrower than the way round
    ACTS["strips"].do(load_job(125).parts_by_key()["cushion_boxing"], {"strips": 2})
    fresh = load_job(125)
    fresh.trim_kind, fresh.trim_cloth = "welt", fresh.cloths.first()
    fresh.save()
    TrimLine.objects.create(job=fresh, name="Wings and back, one line", length=3900)
    _lay(job, "Tern, velvet", seconds=10)


def _desk_chair() -> None:
    _tag(
        126,
        23,
        title="Desk chair",
        client="Oriel House",
        kind="desk_chair",
        wish="Sound cover, no smell: cover it over?",
    )


def _bar_stools(cloths: dict[str, Cloth], taken: dict[tuple[int, str], Future[TakenUp]]) -> None:
    job = _tag(
        127,
        44,
        title="Bar stools",
        client="Marrow & Finch Tearoom",
        kind="square_stool",
        count=8,
        wish="All eight alike, to match the ottomans.",
    )
    _findings(job, *SOUND)
    _strip(job)
    add_cloth(job, cloths["Bollard, vinyl"], "main")
    _from_photo(job, "seat", taken)
    set_block(
        load_job(127).parts_by_key()["seat"], board_width=345, board_depth=345, board_thickness=18, pad=45, wrap=50
    )
    _lay(job, "Bollard, vinyl", seconds=4)
    for number in range(2, 9):
        set_piece_off(load_job(127), number, is_off=True)
    Job.objects.filter(pk=job.pk).update(waits_for="their yes on the quote")
