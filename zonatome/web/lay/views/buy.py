"""Buying the cloth of a lay: what the seller asks and has, one lot for all, the order, a sample."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any

from django.contrib import messages
from django.db import transaction
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.shop.buying import holds, length_of, lots_for, purchase
from zonatome.core.units import Units
from zonatome.web.base.request import BenchRequest
from zonatome.web.jobs.models import Job, Wait
from zonatome.web.lay import services, under_hand
from zonatome.web.lay.forms import CameForm, OrderForm
from zonatome.web.lay.models import Cloth, ClothOrder, JobCloth, LayRun, Remnant
from zonatome.web.lay.pages import run_or_404
from zonatome.web.lay.seller import ClothSeller, Offer, the_seller
from zonatome.web.lay.views.set_up import not_begun
from zonatome.web.rack.pages import job_page

MINE = ("price", "sold_in", "sold_by", "least")
ON_ORDER = "on order"


def _on_roll(number: int, pk: int) -> tuple[Job, JobCloth, LayRun]:
    job, run = run_or_404(number, pk)
    if run.on_panels:
        raise Http404
    return job, run.job_cloth, run


def buy(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Show what to buy, and what the seller says to it."""
    job, job_cloth, run = _on_roll(number, pk)
    return _page(request, job, job_cloth, run)


def _page(
    request: BenchRequest,
    job: Job,
    job_cloth: JobCloth,
    run: LayRun,
    *,
    refusal: str = "",
    refused: tuple[int, CameForm] | None = None,
) -> HttpResponse:
    found: dict[str, Any] = {"offer": None, "silence": ""}
    seller = the_seller()
    mine = services.purchase_of(job_cloth, run.best_length or 0.0)
    if seller is None:
        found["silence"] = "No seller is set for this installation (ZONATOME_SELLER)."
    else:
        try:
            offer = seller.offer(job_cloth.cloth.name)
        except NoAnswer as silence:
            found["silence"] = str(silence)
        else:
            found |= _said(job_cloth, run, offer, request.workroom.units)
    context = {
        "job_cloth": job_cloth,
        "lay": run.lay(),
        "mine": mine,
        "thumb": services.chart_for(job_cloth),
        "saved": services.saved_on_chart(job_cloth, mine),
        "orders": _orders(request, job_cloth, refused),
        "short": services.short_of_cloth(job_cloth, run.best_length or 0.0),
        "can_lay_on_it": _may_lay_on_it(job_cloth) and any(o.came_length for o in job_cloth.orders.all()),
        "is_parted": len([o for o in job_cloth.orders.all() if o.came_length]) > 1,
        "is_stale": services.cloth_standing(job_cloth).is_stale,
        "refusal": refusal,
    } | found
    return job_page(request, job, "lay", "lay/buy.html", context, status=422 if refusal or refused else 200)


def _said(job_cloth: JobCloth, run: LayRun, offer: Offer, units: Units) -> dict[str, Any]:
    """What the seller's terms come to for this lay, and which lot holds it."""
    bought = purchase(
        run.best_length or 0.0, price=offer.price, sold_in=offer.sold_in, step=offer.sold_by,
        squaring=job_cloth.squaring,
        margin=job_cloth.margin, least=offer.least, breaks=offer.breaks,
    )  # fmt: skip
    cloth = job_cloth.cloth
    breaks = [[b.from_length, float(b.price)] for b in offer.breaks]
    differs = [key for key in MINE if getattr(cloth, key) != getattr(offer, key)] + (
        ["breaks"] if cloth.breaks != breaks else []
    )
    advice = lots_for(bought.length, offer.lots)
    lots: list[dict[str, Any]] = []
    for number, lot in enumerate(offer.lots):
        entry = {"lot": lot, "holds": holds(lot, bought.length), "spare": lot.length - bought.length}
        if not entry["holds"]:
            entry["form"] = OrderForm(units=units, auto_id=f"lot_{number}_%s", initial={"length": lot.length})
        lots.append(entry)
    due = job_cloth.job.due
    comes = timezone.localdate() + timedelta(days=offer.lead_days)
    return {
        "offer": offer,
        "bought": bought,
        "advice": advice,
        "lots": lots,
        "differs": differs,
        "comes": comes,
        "is_late": bool(due and comes >= due),
    }


def _waiting_for(job_cloth: JobCloth) -> str:
    return f"{job_cloth.cloth.name} {ON_ORDER}"[:80]


def _orders(request: BenchRequest, job_cloth: JobCloth, refused: tuple[int, CameForm] | None) -> list[dict[str, Any]]:
    """The orders, each with the form that takes it in, as long as it has not come."""
    entries = []
    for order in job_cloth.orders.all():
        form = None
        if order.came_at is None:
            form = CameForm(initial={"came": order.length}, units=request.workroom.units, auto_id=f"id_{order.pk}_%s")
            if refused and refused[0] == order.pk:
                form = refused[1]
        entries.append({"order": order, "form": form})
    return entries


def _asked(request: BenchRequest, number: int, pk: int) -> tuple[Job, JobCloth, LayRun, ClothSeller]:
    job, job_cloth, run = _on_roll(number, pk)
    seller = the_seller()
    if seller is None:
        raise Http404
    return job, job_cloth, run, seller


@require_POST
def order(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Order what the lay takes from one lot, or a length that is sent from a lot that does not hold it all; the tag
    waits for it then.
    """
    job, job_cloth, run, seller = _asked(request, number, pk)
    lot = request.POST.get("lot", "")[:30]
    part = OrderForm(request.POST, units=request.workroom.units) if "length" in request.POST else None
    if part is not None and not part.is_valid():
        return _page(
            request, job, job_cloth, run, refusal=f"{' '.join(map(str, part.errors['length']))} Nothing is ordered."
        )
    try:
        offer = seller.offer(job_cloth.cloth.name)
        length = (
            part.cleaned_data["length"]
            if part
            else _said(job_cloth, run, offer, request.workroom.units)["bought"].length
        )
        confirmed = seller.order(job_cloth.cloth.name, lot, length)
    except NoAnswer as refused:
        return _page(request, job, job_cloth, run, refusal=f"{refused} Nothing is ordered.")
    with transaction.atomic():
        ClothOrder.objects.create(
            job_cloth=job_cloth,
            number=confirmed.number,
            lot=confirmed.lot,
            length=confirmed.length,
            cost=confirmed.cost,
            arrives=confirmed.arrives,
        )
        Cloth.objects.filter(pk=job_cloth.cloth_id).update(lot=confirmed.lot)
        until = timezone.make_aware(datetime.combine(confirmed.arrives, time(12)))
        if until > timezone.now():
            Wait.objects.create(job=job, step="lay", words=_waiting_for(job_cloth), until=until)
    messages.success(request, f"Ordered: {confirmed.number}, lot {confirmed.lot}.")
    return redirect("lay:buy", number=number, pk=pk)


@require_POST
def came(request: BenchRequest, number: int, pk: int, order: int) -> HttpResponse:
    """Take in what was ordered, as it measures; the tag waits for it no longer."""
    job, job_cloth, run = _on_roll(number, pk)
    ordered = get_object_or_404(job_cloth.orders.filter(came_at=None), pk=order)
    form = CameForm(request.POST, units=request.workroom.units, auto_id=f"id_{ordered.pk}_%s")
    if not form.is_valid():
        return _page(request, job, job_cloth, run, refused=(ordered.pk, form))
    with transaction.atomic():
        ordered.came_at, ordered.came_length = timezone.now(), form.cleaned_data["came"]
        ordered.save()
        if not job_cloth.orders.filter(came_at=None).exists():
            job.waits.filter(words=_waiting_for(job_cloth), until__gt=timezone.now()).update(until=timezone.now())
    messages.success(request, f"{job_cloth.cloth.name} is here: {ordered.number}, lot {ordered.lot}.")
    return redirect("lay:buy", number=number, pk=pk)


@require_POST
def lay_on_it(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Lay the pieces on the lengths that have come, each a piece of the store from now on, instead of on one roll.

    Of a patterned cloth it asks first where the motif stands on each.
    """
    job, job_cloth, run = _on_roll(number, pk)
    here = [order for order in job_cloth.orders.order_by("id") if order.came_length]
    if not here or not _may_lay_on_it(job_cloth):
        raise Http404
    try:
        not_begun(job_cloth)
        with transaction.atomic():
            lengths = [_stored(job_cloth, order) for order in here]
            unmeasured = [row for row in lengths if job_cloth.cloth.repeat and row.repeat() is None]
            job_cloth.from_store.set(lengths)
            under_hand.begin_by_hand(job_cloth)
            if not unmeasured:
                services.start_lay(JobCloth.objects.get(pk=pk))
    except BadInput as refused:
        return _page(request, job, job_cloth, run, refusal=refused.sentence)
    if unmeasured:
        messages.info(
            request,
            "What has come is in the store, taken for this tag. Measure where its motif stands, then lay the pieces.",
        )
        return redirect(reverse("store:remnant", args=[unmeasured[0].pk]) + "#motif")
    messages.info(request, "Laid on what has come: each length is in the store, and taken for this tag.")
    return redirect("lay:cloth", number=number, pk=pk)


def _may_lay_on_it(job_cloth: JobCloth) -> bool:
    """Whether what came may be laid on as lengths: nothing lies across the roll there."""
    return not job_cloth.railroaded


def _stored(job_cloth: JobCloth, order: ClothOrder) -> Remnant:
    """What has come by an order as a length in the store, put there once."""
    cloth = job_cloth.cloth
    length = length_of(order.came_length or 0.0, squaring=job_cloth.squaring, width=cloth.width, selvage=cloth.selvage)
    outline = [list(p) for p in length.points]
    words = f"{order.number}, lot {order.lot}"[:80]
    return Remnant.objects.get_or_create(
        cloth=cloth, kind="length", words=words, came_from=job_cloth.job, defaults={"outline": outline}
    )[0]


@require_POST
def take_terms(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Write the seller's price, step, least cut and price breaks on the cloth."""
    job, job_cloth, run, seller = _asked(request, number, pk)
    try:
        offer = seller.offer(job_cloth.cloth.name)
    except NoAnswer as refused:
        return _page(request, job, job_cloth, run, refusal=str(refused))
    cloth = job_cloth.cloth
    for key in MINE:
        setattr(cloth, key, getattr(offer, key))
    cloth.breaks = [[b.from_length, float(b.price)] for b in offer.breaks]
    cloth.save()
    messages.success(request, f"{cloth.name} is reckoned by the seller’s terms now.")
    return redirect("lay:buy", number=number, pk=pk)


@require_POST
def sample(request: BenchRequest, number: int, pk: int) -> HttpResponse:
    """Have a sample sent, and write what it measures on the cloth; `reckon` takes that for its thickness."""
    job, job_cloth, run, seller = _asked(request, number, pk)
    cloth = job_cloth.cloth
    if "reckon" in request.POST and cloth.sample_thickness:
        cloth.thickness = cloth.sample_thickness
        cloth.save()
        messages.success(
            request, f"Reckoned {cloth.thickness:g} mm thick from now on: welt, staples and clearance follow."
        )
        return redirect("lay:buy", number=number, pk=pk)
    try:
        sent = seller.sample(cloth.name)
    except NoAnswer as refused:
        return _page(request, job, job_cloth, run, refusal=str(refused))
    cloth.sample_thickness = sent.measures
    cloth.save()
    return redirect("lay:buy", number=number, pk=pk)
