"""Hanging up a tag, taking it down, hanging it up again."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from decimal import Decimal

from django.db import transaction
from django.db.models import Max

from zonatome.core.formats.furniture_json import write_furniture
from zonatome.core.survey.furniture import with_variants
from zonatome.core.survey.kinds import kind_named
from zonatome.web.jobs.models import Job, JobPart

FIRST_NUMBER = 101


def next_number() -> int:
    """Return the next free number; one that was taken down keeps its own."""
    return (Job.every.aggregate(most=Max("number"))["most"] or FIRST_NUMBER - 1) + 1


def hang_tag(  # noqa: PLR0913 by name: what is written on a tag
    *,
    title: str,
    client: str,
    kind: str,
    variants: Iterable[str] = (),
    count: int = 1,
    due: date | None = None,
    wish: str = "",
    new_price: Decimal | None = None,
    number: int | None = None,
) -> Job:
    """Hang up a tag with the kind's parts, and return it. Raises BadInput for a kind that there is not."""
    data = with_variants(kind_named(kind), variants)
    chosen = [v.key for v in data.variants if v.key in set(variants)]
    with transaction.atomic():
        price = new_price if new_price is not None else Decimal(str(data.new_price))
        job: Job = Job.objects.create(
            number=number or next_number(),
            title=title,
            client=client,
            kind_key=kind,
            count=count,
            due=due,
            wish=wish,
            new_price=price,
            variants=chosen,
            furniture=write_furniture(data) if chosen else None,
        )
        rules = job.rules
        usual = {"wrap": rules["wrap"], "pitch": rules["pitch"]}
        JobPart.objects.bulk_create(JobPart(job=job, key=part.key, **usual) for part in data.parts)
    return job
