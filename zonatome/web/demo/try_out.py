"""A made-up tag to try everything on: an armchair half stripped, its usual shapes, a cloth, a first lay."""

from __future__ import annotations

from decimal import Decimal

from django.contrib import messages
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from zonatome.core.strip.order import things, usual_order
from zonatome.core.strip.record import marks_for
from zonatome.core.survey.findings import finding_named
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.models import Cloth
from zonatome.web.lay.services import add_cloth, start_lay
from zonatome.web.strip.services import Written, set_bag, take_off, write_down
from zonatome.web.survey.models import LayerFinding
from zonatome.web.trace.acts import ACTS
from zonatome.web.trace.services import held_as_panel, keep_shape

LEFT_ON = 4  # things that can still be taken off
FOUND = ("frame_sound", "support_sound", "filling_flat", "cover_worn")


def hang_try_out() -> Job:
    """Hang up the made-up tag and return it; the one that hangs already, where there is one."""
    there: Job | None = Job.objects.filter(is_made_up=True, finished_at=None).first()
    if there is not None:
        return there
    with transaction.atomic():
        job = hang_tag(
            title="Armchair to try out",
            client="nobody, made up",
            kind="armchair",
            wish="Press everything: nothing here is real.",
        )
        Job.objects.filter(pk=job.pk).update(is_made_up=True)
        for key in FOUND:
            LayerFinding.objects.create(job=job, layer=finding_named(key).layer, finding=key)
        order = things(job.kind, usual_order(job.kind))
        for group in order[: max(1, len(order) - LEFT_ON)]:
            take_off(load_job(job.number), group[0])
            for key in group:
                row = load_job(job.number).parts_by_key()[key]
                write_down(row, Written(marks=tuple(m.key for m in marks_for(job.kind, row.part))), version=None)
        for bag in load_job(job.number).bags.all():
            set_bag(load_job(job.number), bag.number, contents="4 screws, 4 washers", came_from="under the seat rails")
        cloth, _ = Cloth.objects.get_or_create(
            name="Cloth to try out",
            defaults={"width": 1400, "price": Decimal("32.00"), "thickness": 1.1, "direction": "two_way"},
        )
        add_cloth(load_job(job.number), cloth, "main")
        for panel in load_job(job.number).kind.panels:
            row = load_job(job.number).parts_by_key()[panel.key]
            keep_shape(row, held_as_panel(row, usual_shape(panel)), "rectangle")
        boxing = load_job(job.number).parts_by_key()["cushion_boxing"]
        ACTS["strips"].do(boxing, {"strips": 2})  # the way round the cushion is longer than the cloth is wide
        start_lay(load_job(job.number).cloths.all()[0])
    return load_job(job.number)


@require_POST
def try_out(request: HttpRequest) -> HttpResponse:
    """Hang up the made-up tag, and open it where its next move is."""
    job = hang_try_out()
    messages.info(request, f"{job.number} is made up: press everything. On the rack one press takes it down again.")
    return redirect("jobs:next", number=job.number)
