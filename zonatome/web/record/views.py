"""The record: what was done, found by words, kind, panel, fixing and day; the log and the quotes as tables."""

from __future__ import annotations

from typing import Any

from django import forms
from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone

from zonatome.core.errors import BadInput
from zonatome.core.strip.record import FIXINGS
from zonatome.core.survey.kinds import KINDS
from zonatome.web.base.answers import table
from zonatome.web.base.owners import money_seen
from zonatome.web.base.request import BenchRequest
from zonatome.web.record.search import Asked, FoundRow, look_up, panel_names
from zonatome.web.shop.models import SentQuote, TimeEntry
from zonatome.web.shop.quotes import answer_words, options_of

MOST_PAGES = 200


class RecordForm(forms.Form):
    """What is looked for."""

    q = forms.CharField(label="Words", required=False, max_length=120)
    kind = forms.ChoiceField(label="Kind", required=False)
    panel = forms.ChoiceField(label="Panel", required=False)
    fixing = forms.ChoiceField(label="Held by", required=False)
    since = forms.DateField(label="From", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    until = forms.DateField(label="To", required=False, widget=forms.DateInput(attrs={"type": "date"}))
    photos = forms.BooleanField(label="With photos", required=False)

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Offer what there is."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)
        offered = {
            "kind": [(k.key, k.name) for k in KINDS.values()],
            "panel": panel_names(),
            "fixing": [(f, f) for f in FIXINGS],
        }
        for key, choices in offered.items():
            self.fields[key].choices = [("", "any"), *choices]  # type: ignore[attr-defined]


def home(request: BenchRequest) -> HttpResponse:
    """Show what was found."""
    form = RecordForm(request.GET or None)
    rows: list[FoundRow] = []
    has_more, refusal = False, ""
    told = request.GET.get("page", "1")
    page = int(told) if told.isdigit() and 0 < len(told) < 4 else 1
    page = min(max(page, 1), MOST_PAGES)
    is_wrong = form.is_bound and not form.is_valid()
    asked = Asked()
    if not is_wrong:
        clean = form.cleaned_data if form.is_bound else {}
        asked = Asked(
            clean.get("q") or "", clean.get("kind") or "", clean.get("panel") or "", clean.get("fixing") or "",
            bool(clean.get("photos")), clean.get("since"), clean.get("until"),
        )  # fmt: skip
        try:
            rows, has_more = look_up(asked, page=page, units=request.workroom.units)
        except BadInput as refused:
            refusal = refused.sentence
    query = request.GET.copy()
    query.pop("page", None)
    context = {
        "form": form,
        "rows": rows,
        "page": page,
        "has_more": has_more,
        "query": query.urlencode(),
        "is_empty": asked.is_empty,
        "refusal": refusal,
        "nav": "record",
    }
    return render(request, "record/home.html", context, status=422 if is_wrong or refusal else 200)


def log_csv(request: BenchRequest) -> HttpResponse:
    """Send the whole log as a table."""
    entries = TimeEntry.objects.select_related("job", "part").order_by("id").iterator(chunk_size=2000)
    local = timezone.localtime
    rows = (
        [e.job.number, e.job.title, e.step, e.part.key if e.part else "", e.by,
         local(e.began).isoformat("T", "minutes"), local(e.ended).isoformat("T", "minutes") if e.ended else "",
         f"{e.minutes:.1f}" if e.ended else ""]
        for e in entries
    )  # fmt: skip
    return table("log.csv", ["tag", "title", "step", "panel", "by", "began", "ended", "minutes"], rows)


@money_seen
def quotes_csv(request: BenchRequest) -> HttpResponse:
    """Send all quotes as a table, a line an option."""
    sent = SentQuote.objects.select_related("job").order_by("id")
    rows = (
        [q.job.number, q.job.title, q.job.client, timezone.localtime(q.made_at).date(), q.holds_until, o.words,
         o.quote.materials_with_margin, o.quote.labour, o.quote.sundries, o.quote.tax, o.quote.rounding, o.quote.total,
         o.quote.deposit, o.quote.new, answer_words(q) if q.option in ("", o.key) else ""]
        for q in sent
        for o in options_of(q)
    )  # fmt: skip
    head = ["tag", "title", "client", "made", "holds until", "option", "materials", "labour", "sundries", "tax",
            "rounding", "total", "deposit", "new", "answer"]  # fmt: skip
    return table("quotes.csv", head, rows)
