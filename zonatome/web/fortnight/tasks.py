"""The search for the fortnight's plan, in the worker."""

from __future__ import annotations

import time
from dataclasses import replace

from django.conf import settings
from django.utils import timezone
from django_tasks import task

from zonatome.core.formats.plan_json import read_plan_request, write_plan, write_spells
from zonatome.core.shop.plan.mend import smallest_mend
from zonatome.core.shop.plan.moved import counted_later, moved
from zonatome.web.fortnight.models import FortnightPlan
from zonatome.web.fortnight.services import baseline_of, spells_before, spells_in

FIRST = 50  # before lays that wait: it takes two seconds, they take many
MOST_MENDS = 6  # late tags of which a mend is sought


@task(priority=FIRST)
def plan_fortnight(plan_id: int) -> None:
    """Find a plan that is little late and moves little; its row holds a quick one until then."""
    rows = FortnightPlan.objects.filter(pk=plan_id)
    if not rows.filter(state="waiting").update(state="running", made_at=timezone.now()):
        return
    row = rows.get()
    if FortnightPlan.objects.filter(pk__gt=plan_id).exists():  # what it is made from has changed meanwhile
        rows.update(state="failed")
        return
    try:
        _plan(row)
    except Exception:
        rows.update(state="failed")
        raise


def _plan(row: FortnightPlan) -> None:
    from zonatome.core.shop.plan.solver import plan  # noqa: PLC0415 a heavy library: only where it plans

    began = time.monotonic()
    before = spells_before(row.first, than=row.pk)
    request = read_plan_request(row.request)
    request = replace(request, before=before)
    found = plan(request, seconds=settings.PLAN_SECONDS)
    took = time.monotonic() - began
    base, news = baseline_of(row), []
    if base is not None:
        was = read_plan_request(base.request)
        was = counted_later(was, (row.first - base.first).days)
        rows_moved = moved(was, spells_in(base, row.first), request, found.spells, first=row.first)
        news = [one.words for one in rows_moved]
    late = [tag for tag in request.tags if tag.number in found.late]
    late.sort(key=lambda tag: tag.due or 0)
    mends = {}
    for tag in late[:MOST_MENDS]:
        mend = smallest_mend(request, found, tag)
        mends[str(tag.number)] = {"words": mend.words, "sort": mend.sort, "due": mend.due}
    FortnightPlan.objects.filter(pk=row.pk).update(
        state="done",
        spells=write_spells(found.spells),
        said=write_plan(found),
        moved=news,
        mends=mends,
        seconds=took,
        made_at=timezone.now(),
    )
