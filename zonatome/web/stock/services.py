"""Stock over all tags: what each still takes and when, what lies there, what is ordered and comes."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from django.core.cache import cache
from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.shop.gather import step_of_material
from zonatome.core.shop.materials import CLOTH
from zonatome.core.shop.plan.hours import moment_of
from zonatome.core.shop.plan.request import Plan
from zonatome.core.shop.stock import SLACK, Lying, OnItsWay, StockLine, Want, packs_for, stock_lines
from zonatome.web.fortnight.services import Asked
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.lay.models import ClothOrder, JobCloth
from zonatome.web.lay.seller import ClothSeller
from zonatome.web.lay.services import cloth_standing
from zonatome.web.shop.services import materials_of, rates_of
from zonatome.web.stock.models import StockItem, StockMove, StockOrder, StockPart

AHEAD = timedelta(days=7)  # the week that one orders for
DELAYED = timedelta(days=7)  # what did not come with the rest is looked for so much later
KEPT_SECONDS = 3600
TASK_OF = {"lay": "cut", "pad": "pad", "fasten": "put_on", "trim": "trim", "finish": "finish"}
MOST = 1e9


@dataclass(frozen=True)
class Line:
    """A thing over all tags, as the page shows it."""

    line: StockLine
    item: StockItem | None
    is_urgent: bool  # a tag wants it within a week


def takes_of(job: Job, workroom: Workroom) -> list[tuple[str, float, str]]:
    """Return what a tag takes of everything but cloth: name, amount, unit. Kept as long as nothing of it changes."""
    rules = hashlib.sha1(json.dumps(workroom.own_rules, sort_keys=True).encode()).hexdigest()
    key = f"takes-{job.pk}-{job.cache_token}-{rules}"
    found: list[tuple[str, float, str]] | None = cache.get(key) if job.cache_token else None
    if found is None:
        lines = materials_of(load_job(job.number), rates_of(workroom), workroom.units)
        found = [(m.what[:80], m.quantity, m.unit) for m in lines if m.unit and m.unit != CLOTH and m.quantity > 0]
        if job.cache_token:
            cache.set(key, found, KEPT_SECONDS)
    return found


def wants_now(asked: Asked, plan: Plan, workroom: Workroom) -> tuple[list[Want], dict[str, str]]:
    """Return what all open tags still take, and the units of it: a thing is wanted when the first spell of its task
    begins, and no more once the task is done; what was taken for a tag counts.
    """
    used = {
        (row["item__name"], row["job_id"]): -row["taken"]
        for row in StockMove.objects.filter(why="used").values("item__name", "job_id").annotate(taken=Sum("amount"))
    }
    begins: dict[tuple[int, str], int] = {}
    for spell in plan.spells:
        at = (spell.key.tag, spell.key.task)
        begins[at] = min(begins.get(at, spell.begins), spell.begins)
    left = {tag.number: {task.key for task in tag.tasks} for tag in asked.request.tags}
    found, units = [], {}
    for number, job in asked.jobs.items():
        for thing, amount, unit in takes_of(job, workroom):
            task = TASK_OF[step_of_material(thing)]
            if number in left and task not in left[number]:
                continue
            begin = begins.get((number, task))
            by = moment_of(begin, asked.first).date() if begin is not None else None
            units[thing] = unit
            found.append(Want(thing, number, max(0.0, amount - used.get((thing, job.pk), 0.0)), by))
    return found, units


def lying_now() -> list[Lying]:
    """Return what lies in stock."""
    rows = StockItem.objects.annotate(there=Sum("moves__amount"))
    return [Lying(r.name, r.unit, round(max(0.0, r.there or 0.0), 3), r.least) for r in rows]


def coming_now() -> list[OnItsWay]:
    """Return what is on its way."""
    rows = StockPart.objects.filter(came_at=None).select_related("order__item")
    return [OnItsWay(r.order.item.name, r.amount, r.arrives) for r in rows]


def lines_now(asked: Asked, plan: Plan, workroom: Workroom) -> list[Line]:
    """Return all things over all tags; what a tag lacks within a week first, then what is short, then the rest."""
    wants, units = wants_now(asked, plan, workroom)
    items = {row.name: row for row in StockItem.objects.all()}
    until = asked.first + AHEAD
    found = [
        Line(line, items.get(line.lying.thing), bool(line.short and line.short_by and line.short_by <= until))
        for line in stock_lines(lying_now(), wants, coming_now(), units)
    ]
    return sorted(found, key=lambda one: (not one.is_urgent, not one.line.is_short, one.line.lying.thing))


def item_of(name: str, unit: str = "") -> StockItem:
    """Return the thing of this name; it is made where tags take it and it has never lain there."""
    if not 1 <= len(name) <= 80:
        raise BadInput("name", name, "a name of 1 to 80 letters")
    return StockItem.objects.get_or_create(name=name, defaults={"unit": unit or "pieces"})[0]


def there_of(item: StockItem) -> float:
    """Return how much of a thing lies there."""
    return round(max(0.0, item.moves.aggregate(there=Sum("amount"))["there"] or 0.0), 3)


def count_stock(item: StockItem, amount: float) -> None:
    """Say how much of a thing was counted. Raises BadInput for less than nothing."""
    _within(amount)
    with transaction.atomic():
        more = amount - there_of(item)
        if abs(more) > SLACK:
            StockMove.objects.create(item=item, amount=more, why="counted")


def take_for(job: Job, lines: Iterable[Line]) -> int:
    """Book what is kept for a tag as taken; return of how many things."""
    rows = [one for one in lines if one.line.kept.get(job.number, 0.0) > SLACK and one.item is not None]
    with transaction.atomic():
        for one in rows:
            item = one.item
            if item is not None:
                amount = min(there_of(item), one.line.kept[job.number])
                StockMove.objects.create(item=item, amount=-amount, why="used", job=job)
    return len(rows)


def order_thing(seller: ClothSeller, item: StockItem, amount: float) -> StockOrder:
    """Order at least so much of a thing. Raises NoAnswer where the seller refuses; then nothing is ordered."""
    offer = seller.thing(item.name)
    packs = max(1, packs_for(amount, offer.pack))
    confirmed = seller.order_thing(item.name, packs)
    with transaction.atomic():
        order = StockOrder.objects.create(
            item=item, number=confirmed.number, packs=packs, pack=offer.pack, cost=confirmed.cost
        )
        StockPart.objects.bulk_create(
            StockPart(order=order, amount=part, arrives=arrives) for part, arrives in confirmed.parts
        )
    return order


def take_in(part: StockPart, amount: float) -> None:
    """Take in a delivery as it was counted; what did not come of it stays on its way. Raises BadInput for an amount
    that is none.
    """
    _within(amount)
    with transaction.atomic():
        if not StockPart.objects.filter(pk=part.pk, came_at=None).update(came_at=timezone.now(), came_amount=amount):
            return  # somebody else has taken it in
        if amount > SLACK:
            StockMove.objects.create(item=part.order.item, amount=amount, why="came", part=part)
        if amount < part.amount - SLACK:
            late = max(timezone.localdate(), part.arrives) + DELAYED
            StockPart.objects.create(order=part.order, amount=part.amount - amount, arrives=late)


def send_back(seller: ClothSeller, order: StockOrder, packs: int) -> None:
    """Send packs of an order back.

    Raises BadInput for more than came or lies there, NoAnswer where the seller refuses.
    """
    came = sum(p.came_amount or 0.0 for p in order.parts.all())
    most = int(min(came, there_of(order.item)) / order.pack + SLACK) if order.pack else 0
    most = min(most, order.packs - order.returned)
    if not 1 <= packs <= most:
        raise BadInput("packs", packs, f"1 to {most} packs" if most else "packs that lie here whole: there are none")
    credit = seller.take_back(order.number, packs)
    with transaction.atomic():
        order.returned += packs
        order.credit += credit
        order.save(update_fields=["returned", "credit"])
        StockMove.objects.create(item=order.item, amount=-packs * order.pack, why="returned")


def _within(amount: float) -> None:
    if not 0 <= amount <= MOST:
        raise BadInput("amount", amount, "an amount from 0")


@dataclass(frozen=True)
class ClothLine:
    """A cloth that a tag takes off a roll: how much, what has come and what is on its way; when it is cut."""

    job_cloth: JobCloth
    number: int
    buy: float
    came: float
    coming: float
    arrives: date | None
    by: date | None

    @property
    def short(self) -> float:
        """What is neither here nor on its way."""
        return max(0.0, self.buy - self.came - self.coming)

    @property
    def is_late(self) -> bool:
        """Whether it comes after it is to be cut."""
        return self.arrives is not None and self.by is not None and self.arrives > self.by


def cloths_now(asked: Asked, plan: Plan) -> list[ClothLine]:
    """Return the cloths of all open tags that are laid on a roll and not cut yet."""
    begins: dict[int, int] = {}
    for spell in plan.spells:
        if spell.key.task == "cut":
            begins[spell.key.tag] = min(begins.get(spell.key.tag, spell.begins), spell.begins)
    left = {tag.number for tag in asked.request.tags if any(task.key == "cut" for task in tag.tasks)}
    found = []
    used = JobCloth.objects.filter(job__number__in=list(asked.jobs)).values_list("job__number", flat=True)
    for number in sorted(set(used)):
        if number not in left and number not in asked.waiting:
            continue
        for job_cloth in load_job(number).cloths.all():
            standing = cloth_standing(job_cloth)
            if not standing.is_laid or not standing.buy:
                continue
            orders = list(ClothOrder.objects.filter(job_cloth=job_cloth))
            waiting = [o for o in orders if o.came_at is None]
            at = begins.get(number)
            found.append(
                ClothLine(
                    job_cloth,
                    number,
                    standing.buy,
                    sum(o.came_length or 0.0 for o in orders),
                    sum(o.length for o in waiting),
                    max((o.arrives for o in waiting if o.arrives), default=None),
                    moment_of(at, asked.first).date() if at is not None else None,
                )
            )
    return sorted(found, key=lambda one: (not one.short, one.by or date.max, one.number))
