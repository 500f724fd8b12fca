"""What a tag needs at the bench, from its rows to the core's values."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from zonatome.core.cautions import Caution, cautions_for
from zonatome.core.errors import BadInput
from zonatome.core.fasten.staples import staple_leg, through_cloth
from zonatome.core.formats.leaving_json import read_frame
from zonatome.core.shop.estimate import STEPS
from zonatome.core.shop.gather import (
    TOOLS,
    Gathered,
    Needs,
    ToBuy,
    Worth,
    step_of_material,
    to_buy,
    tools_for,
    worth_it,
)
from zonatome.core.survey.findings import cautions_called
from zonatome.web.fasten.services import closed_edges, rail_of
from zonatome.web.jobs.models import Job, Workroom
from zonatome.web.shop.models import GatherTick, OldPiece, OwnTool
from zonatome.web.shop.services import is_covered_over, materials_of, money_of, rates_of
from zonatome.web.shop.work import works_of
from zonatome.web.strip.models import KeptThing
from zonatome.web.trace.boards import staples_of
from zonatome.web.trim.services import trims_of_job

NO_RAIL = 0.0  # the leg of staples whose rail nobody has measured


@dataclass(frozen=True)
class StepGathered:
    """What is laid out for one step: rows, the cautions of the step."""

    step: str
    rows: list[dict[str, Any]]
    cautions: tuple[Caution, ...]


@dataclass(frozen=True)
class GatherPage:
    """All that a tag needs, step by step; how much lies ready, what would have to be bought."""

    steps: list[StepGathered]
    count: int
    ready: int
    buy: ToBuy
    knows_tools: bool  # somebody has said which tools are here


def needs_of(job: Job) -> Needs:
    """Return what a tag asks of tools, from its rows."""
    rows = job.parts_by_key()
    held = {way for p in job.kind.old if p.key in rows for way in (*rows[p.key].fixings, *p.held)}
    panels = job.panels()
    thick = max((p.cloth.cloth.thickness for p in panels if p.cloth), default=None)
    frame = read_frame(job.frame)
    trims = trims_of_job(job)
    works = {work.key for work in works_of(job) if work.amount}
    return Needs(
        held=() if is_covered_over(job) else held,
        works=works,
        closings={edge.closing.key for part in panels for edge in closed_edges(part)},
        legs=_legs(job),
        trims={trim.kind for trim in trims},
        thickness=thick,
        is_leathery=any(p.cloth.cloth.is_hide for p in panels if p.cloth),
        cord=job.cord if works & {"welt_made", "welt_sewn"} else None,
        has_covers=bool(panels),
        has_coats=bool(frame.coats),
        grits=frame.grits,
        is_masked=frame.is_masked,
    )


def _legs(job: Job) -> dict[float, int]:
    """How many staples of each leg; those whose rail nobody has measured under NO_RAIL."""
    found: Counter[float] = Counter()
    for part in job.panels():
        count = staples_of(part) * job.count
        if not count:
            continue
        leg = None
        if part.board_thickness and part.cloth:
            leg = staple_leg(through=through_cloth(part.cloth.cloth.thickness), rail=rail_of(part)).leg
        found[leg or NO_RAIL] += count
    return dict(found)


def own_tools() -> tuple[set[str], dict[str, Decimal]]:
    """Return the keys of the tools that this workroom owns, and its own prices."""
    rows = list(OwnTool.objects.all())
    return {r.key for r in rows if r.is_owned}, {r.key: r.price for r in rows if r.price is not None}


def gather_of(job: Job, workroom: Workroom) -> GatherPage:
    """Return all that a tag needs at the bench, in the order of its steps."""
    tools = tools_for(needs_of(job))
    owned, prices = own_tools()
    ticked = set(GatherTick.objects.filter(job=job).values_list("key", flat=True))
    things, knows = [*tools, *_materials(job, workroom)], OwnTool.objects.exists()
    found = cautions_called([f.finding for f in job.findings.all()])
    steps = []
    for step in STEPS:
        rows = [
            {
                "thing": one,
                "is_ticked": one.key in ticked,
                "is_missing": bool(one.price) and one.key not in owned and knows,
                "price": prices.get(one.key, one.price),
            }
            for one in things
            if one.step == step
        ]
        if rows:
            said = cautions_for(step, kind_cautions=job.kind.cautions, found=found)
            steps.append(StepGathered(step, rows, said))
    ready = sum(row["is_ticked"] for step in steps for row in step.rows)
    return GatherPage(steps, len(things), ready, to_buy(tools, owned, prices), knows)


def _materials(job: Job, workroom: Workroom) -> list[Gathered]:
    lines = materials_of(job, rates_of(workroom), workroom.units)
    found = [Gathered(step_of_material(m.what), f"m-{m.what}"[:80], m.what, m.amount) for m in lines]
    saved = KeptThing.objects.filter(reserved_for=job, used_at=None)
    return [*found, *(Gathered(step_of_material(t.what), f"s-{t.pk}", f"saved: {t.what} {t.words}") for t in saved)]


def set_tick(job: Job, key: str, *, is_ready: bool, workroom: Workroom) -> None:
    """Tick a thing as laid out, or take the tick back. Raises BadInput for what this tag does not need."""
    known = {row["thing"].key for step in gather_of(job, workroom).steps for row in step.rows}
    if key not in known:
        raise BadInput("key", key, "a thing that this tag needs")
    if is_ready:
        GatherTick.objects.get_or_create(job=job, key=key)
    else:
        GatherTick.objects.filter(job=job, key=key).delete()


def set_tool(key: str, *, is_owned: bool, price: Decimal | None = None) -> None:
    """Say whether a tool is there, and what it costs here. Raises BadInput for a tool there is not."""
    if key not in TOOLS:
        raise BadInput("tool", key, "one of the list")
    told: dict[str, Any] = {"is_owned": is_owned}
    if price is not None:
        told["price"] = price
    OwnTool.objects.update_or_create(key=key, defaults=told)


def worth_of(job: Job, workroom: Workroom, *, asked: Decimal | None = None) -> Worth:
    """Return whether a tag is worth it, the old piece and the tools bought for it counted; those count once somebody
    has said which are here.
    """
    row = OldPiece.objects.filter(job=job).first() or OldPiece(job=job)
    owned, prices = own_tools()
    if asked is None:
        asked = money_of(job, workroom).quote.total
    buy = to_buy(tools_for(needs_of(job)), owned if OwnTool.objects.exists() else TOOLS, prices)
    return worth_it(
        asked=asked, old_piece=Decimal(row.cost), tools=buy.cost, spread=row.spread,
        new=Decimal(job.new_price) * job.count,
    )  # fmt: skip
