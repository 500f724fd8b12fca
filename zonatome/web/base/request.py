"""The request as this application's pages get it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpRequest

if TYPE_CHECKING:
    from zonatome.web.jobs.models import Workroom


class BenchRequest(HttpRequest):
    """A request with the workroom that it belongs to, which `jobs.middleware.with_workroom` adds."""

    workroom: Workroom
    sees_money: bool
