"""Gather: what a tag needs at the bench, ticked as it is laid out; the tools of the workroom."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput
from zonatome.core.shop.gather import TOOLS
from zonatome.web.base.answers import said
from zonatome.web.base.owners import owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.loading import load_job
from zonatome.web.rack.pages import job_page
from zonatome.web.shop.gather import gather_of, own_tools, set_tick, set_tool
from zonatome.web.shop.models import OldPiece

MOST_PRICE = 99_999


class OldPieceForm(forms.ModelForm):  # type: ignore[type-arg]
    """What the old piece cost, and over how many jobs new tools are spread."""

    class Meta:
        model = OldPiece
        fields = ("cost", "spread")
        labels = {"cost": "The old piece cost", "spread": "New tools serve so many jobs"}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Bound both."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)
        self.fields["cost"] = forms.DecimalField(
            label="The old piece cost", min_value=0, max_value=MOST_PRICE, decimal_places=2
        )
        self.fields["spread"] = forms.IntegerField(label="New tools serve so many jobs", min_value=1, max_value=1000)


def home(request: BenchRequest, number: int) -> HttpResponse:
    """Show what to lay out, step by step."""
    job = load_job(number)
    return job_page(request, job, "gather", "shop/gather.html", {"gather": gather_of(job, request.workroom)})


@require_POST
def tick(request: BenchRequest, number: int) -> HttpResponse:
    """Tick a thing as laid out, or take the tick back."""
    job = load_job(number)
    is_script = request.headers.get("X-Tick") == "1"
    try:
        set_tick(
            job, request.POST.get("key", "")[:80], is_ready=request.POST.get("cut") == "1", workroom=request.workroom
        )
    except BadInput as refused:
        if is_script:
            return said(request, refused.sentence)
        messages.info(request, "That is not on the list any more.")
        return redirect("shop:gather", number=number)
    return HttpResponse(status=204) if is_script else redirect("shop:gather", number=number)


class ToolForm(forms.Form):
    """What a tool costs here."""

    price = forms.DecimalField(label="Price", required=False, min_value=0, max_value=MOST_PRICE, decimal_places=2)


def _tools_page(request: BenchRequest, *, wrong: dict[str, str] | None = None) -> HttpResponse:
    """The page; after a refusal with what was typed."""
    owned, prices = own_tools()
    typed = request.POST if wrong else None
    rows = [
        {
            "tool": tool,
            "is_owned": tool.key in owned if typed is None else f"own-{tool.key}" in typed,
            "price": f"{prices.get(tool.key, tool.price):f}" if typed is None else typed.get(f"price-{tool.key}", ""),
            "wrong": (wrong or {}).get(tool.key, ""),
        }
        for tool in TOOLS.values()
    ]
    context = {"rows": rows, "nav": "workroom", "owned": len(owned)}
    return render(request, "shop/tools.html", context, status=422 if wrong else 200)


@owners_only
def tools(request: BenchRequest) -> HttpResponse:
    """Show all tools, and keep which are there and what they cost."""
    if request.method != "POST":
        return _tools_page(request)
    told, wrong = {}, {}
    for key in TOOLS:
        form = ToolForm({"price": request.POST.get(f"price-{key}", "")[:20]})
        if form.is_valid():
            told[key] = form.cleaned_data["price"]
        else:
            wrong[key] = " ".join(map(str, form.errors["price"]))
    if wrong:
        return _tools_page(request, wrong=wrong)
    for key, price in told.items():
        own = None if price is None or price == TOOLS[key].price else price
        set_tool(key, is_owned=request.POST.get(f"own-{key}") == "on", price=own)
    messages.success(request, "Kept.")
    return redirect("tools")


@owners_only
@require_POST
def old_piece(request: BenchRequest, number: int) -> HttpResponse:
    """Keep what the old piece cost."""
    job = load_job(number)
    row = OldPiece.objects.filter(job=job).first() or OldPiece(job=job)
    form = OldPieceForm(request.POST, instance=row)
    if form.is_valid():
        form.save()
        return redirect("shop:home", number=number)
    from zonatome.web.shop.views.money import money_page  # noqa: PLC0415 the page that this form stands on

    return money_page(request, job, old_form=form)
