"""The stock: what is short for the week over all tags, ordered, taken in, counted, taken for a tag."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.shop.stock import amount_words
from zonatome.core.units import format_length
from zonatome.web.base.answers import table
from zonatome.web.base.owners import owners_only
from zonatome.web.base.request import BenchRequest
from zonatome.web.fortnight.services import asked_now, plan_in_hand, plan_of
from zonatome.web.jobs.models import Job
from zonatome.web.lay.seller import the_seller
from zonatome.web.stock.forms import AmountForm, NewThingForm
from zonatome.web.stock.models import StockItem, StockOrder, StockPart
from zonatome.web.stock.services import (
    Line,
    cloths_now,
    count_stock,
    item_of,
    lines_now,
    order_thing,
    send_back,
    take_for,
    take_in,
)
from zonatome.web.strip.models import KeptThing


def _lines(request: BenchRequest) -> tuple[list[Line], Any, Any]:
    now = timezone.localtime()
    asked = asked_now(request.workroom, now)
    plan = plan_of(plan_in_hand(asked, now))
    return lines_now(asked, plan, request.workroom), asked, plan


def _words(request: BenchRequest, amount: float, unit: str) -> str:
    return amount_words(amount, unit, format_length(amount, request.workroom.units, "cloth", up=True))


def _page(
    request: BenchRequest,
    *,
    refusal: str = "",
    forms: dict[str, Any] | None = None,
    came_form: tuple[int, AmountForm] | None = None,
    packs: tuple[int, str] | None = None,
) -> HttpResponse:
    """The page; after a refusal with what was typed: forms by the name of the thing, of a delivery, packs."""
    lines, asked, plan = _lines(request)
    kept_for = {tag for one in lines for tag in one.line.kept}
    context = {
        "rows": [_row(request, one, (forms or {}).get(one.line.lying.thing)) for one in lines],
        "urgent": sum(one.is_urgent for one in lines),
        "short": sum(one.line.is_short for one in lines),
        "late": sum(one.line.late for one in lines),
        "cloths": cloths_now(asked, plan),
        "parts": [
            {
                "row": p,
                "words": _words(request, p.amount, p.order.item.unit),
                "form": came_form[1] if came_form and came_form[0] == p.pk else _came_form(request, p),
            }
            for p in StockPart.objects.filter(came_at=None).select_related("order__item")
        ],
        "orders": [
            {
                "row": o,
                "has_come": any(p.came_amount for p in o.parts.all()),
                "packs": packs[1] if packs and packs[0] == o.pk else "1",
            }
            for o in StockOrder.objects.select_related("item").prefetch_related("parts")[:12]
        ],
        "tags": [asked.jobs[n] for n in sorted(kept_for) if n in asked.jobs],
        "saved": KeptThing.objects.filter(used_at=None).count(),
        "new_form": (forms or {}).get("") or NewThingForm(label_suffix=""),
        "has_seller": the_seller() is not None,
        "refusal": refusal,
        "nav": "stock",
    }
    return render(request, "stock/home.html", context, status=422 if refusal or forms else 200)


def _row(request: BenchRequest, one: Line, form: Any) -> dict[str, Any]:
    """A thing of the store as it stands there; with its form where that was refused."""
    line, unit = one.line, one.line.lying.unit
    return {
        "thing": line.lying.thing,
        "unit": unit,
        "there": _words(request, line.lying.there, unit),
        "least": _words(request, line.lying.least, unit) if line.lying.least else "",
        "kept": [(tag, _words(request, amount, unit)) for tag, amount in line.kept.items()],
        "coming": _words(request, line.on_its_way, unit) if line.on_its_way else "",
        "short": [(tag, _words(request, amount, unit)) for tag, amount in line.short.items()],
        "by": line.short_by,
        "late": line.late,
        "to_order": _words(request, line.to_order, unit) if line.is_short else "",
        "is_urgent": one.is_urgent,
        "form": form or _amount_form(request, unit, line.lying.there, line.lying.least),
        "is_open": form is not None,
    }


def _figure(amount: float) -> float:
    """An amount as it stands in a box: without a point where it is whole."""
    return int(amount) if float(amount).is_integer() else round(amount, 3)


def _amount_form(request: BenchRequest, unit: str, there: float, least: float) -> AmountForm:
    initial = {"amount": _figure(there), "least": _figure(least)}
    return AmountForm(unit=unit, units=request.workroom.units, has_least=True, initial=initial, auto_id=False)


def _came_form(request: BenchRequest, part: StockPart) -> AmountForm:
    initial = {"amount": _figure(part.amount)}
    return AmountForm(unit=part.order.item.unit, units=request.workroom.units, initial=initial, auto_id=False)


def home(request: BenchRequest) -> HttpResponse:
    """Show the stock."""
    return _page(request)


def _found(lines: list[Line], name: str) -> Line:
    for one in lines:
        if one.line.lying.thing == name:
            return one
    raise Http404


@owners_only
@require_POST
def order(request: BenchRequest) -> HttpResponse:
    """Order what is short of one thing."""
    one = _found(_lines(request)[0], request.POST.get("thing", "")[:80])
    return _ordered(request, [one])


@owners_only
@require_POST
def order_all(request: BenchRequest) -> HttpResponse:
    """Order all that is short."""
    return _ordered(request, _lines(request)[0])


def _ordered(request: BenchRequest, lines: list[Line]) -> HttpResponse:
    seller = the_seller()
    if seller is None:
        return _page(request, refusal="No seller is set up on this machine: nothing is ordered.")
    done, wrong = [], []
    for one in lines:
        if not one.line.is_short:
            continue
        try:
            item = item_of(one.line.lying.thing, one.line.lying.unit)
            made = order_thing(seller, item, one.line.to_order)
            done.append(f"{item.name} ({made.number})")
        except NoAnswer as refused:
            wrong.append(f"{one.line.lying.thing}: {refused}")
    if done:
        messages.success(request, "Ordered: " + ", ".join(done) + ".")
    if wrong:
        return _page(request, refusal=" ".join(wrong))
    if not done:
        messages.info(request, "Nothing is short: nothing is ordered.")
    return redirect("stock:home")


@require_POST
def came(request: BenchRequest, pk: int) -> HttpResponse:
    """Take in what came of a delivery."""
    part = get_object_or_404(StockPart.objects.select_related("order__item"), pk=pk, came_at=None)
    form = AmountForm(request.POST, unit=part.order.item.unit, units=request.workroom.units, auto_id=False)
    if not form.is_valid():
        words = f"{part.order.item.name}: {' '.join(map(str, form.errors['amount']))}"
        return _page(request, refusal=words, came_form=(part.pk, form))
    take_in(part, form.cleaned_data["amount"] or 0.0)
    messages.success(request, f"In stock: {part.order.item.name}.")
    return redirect("stock:home")


@owners_only
@require_POST
def back(request: BenchRequest, pk: int) -> HttpResponse:
    """Send packs of an order back."""
    row = get_object_or_404(StockOrder.objects.select_related("item"), pk=pk)
    seller, packs = the_seller(), request.POST.get("packs", "")
    try:
        if seller is None:
            raise NoAnswer("No seller is set up on this machine: nothing is sent back.")
        send_back(seller, row, int(packs) if packs.isdigit() and len(packs) < 5 else 0)
    except (BadInput, NoAnswer) as refused:
        words = refused.told if isinstance(refused, BadInput) else str(refused)
        return _page(request, refusal=words, packs=(row.pk, packs[:20]))
    messages.success(request, f"{row.item.name}: sent back, {request.workroom.currency} {row.credit} credited.")
    return redirect("stock:home")


@require_POST
def count(request: BenchRequest) -> HttpResponse:
    """Keep how much of a thing was counted and how much shall lie there at least; a new thing by its name."""
    name = request.POST.get("name", request.POST.get("thing", "")).strip()[:200]
    unit = request.POST.get("unit", "")
    if "name" in request.POST:
        new = NewThingForm(request.POST, label_suffix="")
        if not new.is_valid():
            return _page(request, forms={"": new})
        item_of(new.cleaned_data["name"], new.cleaned_data["unit"])
        return redirect("stock:home")
    known = StockItem.objects.filter(name=name).first()
    unit = known.unit if known else unit
    if known is None and unit not in ("mm", "sheets", "pieces"):
        raise Http404
    form = AmountForm(request.POST, unit=unit, units=request.workroom.units, has_least=True, auto_id=False)
    if not form.is_valid():
        return _page(request, forms={name: form})
    try:
        item = item_of(name, unit)
    except BadInput:
        raise Http404 from None
    count_stock(item, form.cleaned_data["amount"] or 0.0)
    item.least = form.cleaned_data["least"] or 0.0
    item.save(update_fields=["least"])
    messages.success(request, f"{item.name}: counted.")
    return redirect("stock:home")


@require_POST
def take(request: BenchRequest, number: int) -> HttpResponse:
    """Book what is kept for a tag as taken."""
    job = get_object_or_404(Job, number=number)
    many = take_for(job, _lines(request)[0])
    messages.success(request, f"{many} thing{'' if many == 1 else 's'} taken for {number}.")
    return redirect("stock:home")


def as_csv(request: BenchRequest) -> HttpResponse:
    """Send the stock as a table."""
    rows = (
        [line.lying.thing, line.lying.unit, line.lying.there, line.lying.least, sum(line.kept.values()),
         line.on_its_way, line.to_order]
        for line in (one.line for one in _lines(request)[0])
    )  # fmt: skip
    return table("stock.csv", ["thing", "unit", "there", "least", "kept", "on its way", "to order"], rows)
