"""The rooms of a tag, opened without a browser: whether each can show what the tag holds."""

from __future__ import annotations

import logging
from collections.abc import Iterator

from django.contrib.messages.storage.cookie import CookieStorage
from django.db import DatabaseError
from django.http import Http404, HttpRequest, QueryDict
from django.urls import resolve, reverse

from zonatome.core.errors import BadInput
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Job
from zonatome.web.lay.services import best_run

EVERYWHERE = (
    "survey:home", "survey:panels", "survey:restyle", "strip:home", "trace:home", "lay:home", "pad:home",
    "fasten:home", "trim:home",
    "finish:home", "shop:home", "jobs:edit", "round:home", "round:tag",
)  # fmt: skip
OF_A_LAY = ("lay:sheet", "lay:seen", "lay:buy")
logger = logging.getLogger(__name__)


def rooms_of(job: Job) -> Iterator[str]:
    """Yield the addresses of a tag's pages: those of each step, of each panel, of each cloth with its lay."""
    number = job.number
    yield from (reverse(name, args=[number]) for name in EVERYWHERE)
    for part in job.panels():
        yield reverse("trace:panel", args=[number, part.key])
    for part in job.padded():
        yield reverse("fasten:panel", args=[number, part.key])
    for job_cloth in job.cloths.all():
        yield reverse("lay:cloth", args=[number, job_cloth.pk])
        yield reverse("lay:set_up", args=[number, job_cloth.pk])
        run = best_run(job_cloth)
        if run is not None:
            yield from (
                reverse(name, args=[number, job_cloth.pk])
                for name in OF_A_LAY
                if name != "lay:buy" or not run.on_panels
            )


def look_in(number: int, asking: HttpRequest) -> None:
    """Open every room of a tag for whoever is asking. Raises BadInput with the first one that can't show what the tag
    holds.

    Nothing that the rooms say of it is shown to anybody. An error of the store is not taken for one of the tag.
    """
    place = "its furniture"
    try:
        for place in rooms_of(load_job(number)):
            _open(place, asking)
    except (DatabaseError, MemoryError):
        raise
    except Exception as wrong:
        logger.info("a tag that was brought in can't be shown at %s: %r", place, wrong)
        said = str(wrong) if isinstance(wrong, BadInput) else type(wrong).__name__
        raise BadInput(
            "job.json", said[:200], f"values with which every page of the tag can be shown; {place} can't"
        ) from wrong


def _open(address: str, asking: HttpRequest) -> None:
    request = HttpRequest()
    request.META = dict(asking.META)
    request.method, request.path, request.path_info = "GET", address, address
    request.GET, request.POST = QueryDict(), QueryDict()
    for name in ("user", "session", "workroom"):
        setattr(request, name, getattr(asking, name))
    request._messages = CookieStorage(request)  # type: ignore[attr-defined]  # noqa: SLF001 as its middleware does
    match = request.resolver_match = resolve(address)
    try:
        match.func(request, *match.args, **match.kwargs)
    except Http404 as none:
        raise BadInput(address, "no page", "a page") from none
