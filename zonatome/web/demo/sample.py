"""The sample workroom: Quayside Workroom, its cloths and its tags, each at another step. All of it is made up.

What it is made of stands in `data/`: the cloths, what lies in the store, one file a tag.
"""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from datetime import timedelta
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from zonatome.core.shop.gather import TOOLS
from zonatome.core.trace.mat import Mat
from zonatome.core.trace.take_up import TakenUp, taken_up
from zonatome.standins.bench_camera import Shot
from zonatome.web.demo.making import STEPS, Making
from zonatome.web.jobs.models import Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth, Remnant
from zonatome.web.shop.models import OwnTool
from zonatome.web.stock.models import StockItem, StockMove
from zonatome.web.trace.models import ShapeChange

HERE = Path(__file__).parent
NAME = "ines"
PASSWORD = "quayside"  # noqa: S105 made up, and said on the page
SECOND_NAME = "tomas"
MAT = Mat(1200, 800)
STOCK = (  # thing, unit, how much lies there, the least that shall
    ("webbing", "mm", 22_000, 10_000), ("staples", "pieces", 3_400, 2_000), ("welt cord", "mm", 14_000, 0),
    ("hessian", "mm", 2_500, 1_000), ("tack strip", "mm", 6_000, 0), ("zips", "mm", 5_000, 0),
)  # fmt: skip
NOT_HERE = ("button_press", "spring_pliers", "glue_gun")  # tools that the sample workroom does without


@dataclass(frozen=True)
class Tag:
    """One tag of the sample: what stands on it, and the steps that were done on it."""

    number: int
    due_in_days: int
    steps: tuple[dict[str, Any], ...]
    said: dict[str, Any]

    @property
    def shots(self) -> dict[str, Shot]:
        """The old covers that have been photographed on the mat, by panel."""
        return {s["panel"]: Shot(**s["shot"]) for s in self.steps if s["do"] == "trace_photo"}


@cache
def tags() -> tuple[Tag, ...]:
    """Return the tags of the sample, by number."""
    found = []
    for file in sorted((HERE / "data/tags").glob("*.json")):
        told = json.loads(file.read_text())
        found.append(Tag(told.pop("number"), told.pop("due_in_days"), tuple(told.pop("steps")), told))
    return tuple(found)


def photo_file(number: int, key: str) -> Path:
    """Return where the photo of a sample cover lies: taken by the bench camera's stand-in, see
    bench/sample_photos.py.
    """
    return HERE / "covers" / f"{number}-{key}.jpg"


def load_sample() -> None:
    """Load the sample workroom into an empty store."""
    with ThreadPoolExecutor(2) as pool, transaction.atomic():
        taken = {tag.number: {key: pool.submit(_taken, tag.number, key).result for key in tag.shots} for tag in tags()}
        workroom = Workroom.the_one()
        workroom.name, workroom.units, workroom.currency = "Quayside Workroom", "metric", "€"
        workroom.save()
        User.objects.create_user(NAME, password=PASSWORD, is_staff=True)
        User.objects.create_user(SECOND_NAME, password=PASSWORD)
        for key in TOOLS:
            OwnTool.objects.create(key=key, is_owned=key not in NOT_HERE)
        cloths = _cloths()
        for tag in tags():
            due = timezone.localdate() + timedelta(days=tag.due_in_days)
            hang_tag(number=tag.number, due=due, **tag.said)
            at = Making(tag.number, cloths, taken[tag.number])
            for step in tag.steps:
                STEPS[step["do"]](at, **{name: value for name, value in step.items() if name != "do"})
        for name, unit, there, least in STOCK:
            item = StockItem.objects.create(name=name, unit=unit, least=least)
            StockMove.objects.create(item=item, amount=there, why="counted")
        ShapeChange.objects.all().delete()  # how the sample was made is nobody's to take back


def _cloths() -> dict[str, Cloth]:
    """The cloths of the store, with the hides, remnants and the curtain length that lie on its shelf."""
    rows = json.loads((HERE / "data/cloths.json").read_text())
    cloths = {row["name"]: Cloth.objects.create(**{**row, "price": Decimal(row["price"])}) for row in rows}
    for row in json.loads((HERE / "data/store.json").read_text()):
        Remnant.objects.create(**{**row, "cloth": cloths[row["cloth"]]})
    return cloths


def _taken(number: int, key: str) -> TakenUp:
    return taken_up(photo_file(number, key).read_bytes(), MAT)
