"""The workroom's own rules: each figure beside the trade's, and what a change touches."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from django import forms
from django.contrib import messages
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from zonatome.core.errors import BadInput
from zonatome.core.formats.piece_json import read_piece, write_piece
from zonatome.core.rules import RULES, Rule, Rules, rules_of
from zonatome.core.units import Units, format_length, said_in
from zonatome.web.base.length_forms import LengthField, WorkForm
from zonatome.web.base.owners import owners_only
from zonatome.web.jobs.models import Job, JobPart, Workroom
from zonatome.web.lay.models import JobCloth
from zonatome.web.lay.services import cloth_standing
from zonatome.web.pad.services import stack_of
from zonatome.web.trace.services import redo_block

SAME = 0.05  # mm


class RulesForm(WorkForm):
    """Every rule of the workroom in a box of its own."""

    def __init__(self, *args: Any, rules: Rules, units: Units, **kwargs: Any) -> None:
        """Build the boxes from the table; shares are asked for in per cent, what is a metre's by the yard in inches."""
        super().__init__(*args, units=units, **kwargs)
        self.rules = rules
        for rule in RULES.values():
            self.fields[rule.key] = _box(rule, units)
            self.initial[rule.key] = self._shown(rule)

    def _shown(self, rule: Rule) -> str:
        """A figure as it stands in its box: the trade's length in inches as the trade says it."""
        figure, field = self.rules[rule.key], self.fields[rule.key]
        if rule.unit != "length":
            return rule.in_box(figure, self.units)
        if self.units == "imperial" and figure == rule.figure:
            return rule.in_inches
        return str(field.prepare_value(figure))

    def own(self) -> dict[str, float]:
        """Return the figures, lengths in mm, shares of one, a metre's by the metre; what was left as it stood stays to
        its last digit.
        """
        return {
            rule.key: self.rules[rule.key]
            if str(self[rule.key].data or "").strip() == self.initial[rule.key]
            else rule.meant(float(self.cleaned_data[rule.key] or 0), self.units)
            for rule in RULES.values()
        }


def _box(rule: Rule, units: Units) -> forms.Field:
    words = said_in(rule.name, units)
    label = words[0].upper() + words[1:]
    if rule.unit == "length":
        box = LengthField(label=label, size="small", least=rule.least, most=rule.most, zero=not rule.least)
        box.use(units)
        return box
    least, most = (rule.shown(bound, units) for bound in (rule.least, rule.most))
    suffix = {"share": " (%)", "minutes": " (min)", "count": "", "money": ""}[rule.unit]
    expected = f"Expected a number from {least:.6g} to {most:.6g}."
    return forms.FloatField(
        label=label + suffix,
        widget=forms.NumberInput(attrs={"min": f"{least:.6g}", "max": f"{most:.6g}", "step": "any"}),
        validators=[MinValueValidator(least, expected), MaxValueValidator(most, expected)],
        error_messages={"required": expected, "invalid": expected},
    )


def trade_figure(rule: Rule, units: Units, currency: str) -> str:
    """Return the trade's figure of a rule in words."""
    if rule.unit == "length":
        return format_length(rule.figure, units, "small")
    figure = rule.shown(rule.figure, units)
    if rule.unit == "money":
        return f"{currency} {figure:,.2f}"
    return f"{round(figure, 2):g}" + {"share": " %", "minutes": " min"}.get(rule.unit, "")


@owners_only
def home(request: HttpRequest) -> HttpResponse:
    """Show the rules, and take what is changed."""
    workroom = Workroom.the_one()
    units: Units = "imperial" if workroom.units == "imperial" else "metric"
    form = RulesForm(request.POST or None, rules=workroom.rules, units=units)
    if request.method == "POST" and "reset" in request.POST:
        typed = form.own() if form.is_valid() else dict(workroom.own_rules)  # what else was typed is kept with it
        return _kept(request, workroom, {k: v for k, v in typed.items() if k != request.POST["reset"]})
    if request.method == "POST" and form.is_valid():
        try:
            return _kept(request, workroom, form.own())
        except BadInput as refusal:
            form.refuse(refusal)
    groups: dict[str, list[dict[str, Any]]] = {}
    for rule in RULES.values():
        usual = trade_figure(rule, units, workroom.currency)
        is_own = rule.key in workroom.own_rules
        groups.setdefault(rule.group, []).append(
            {"rule": rule, "box": form[rule.key], "usual": usual, "is_own": is_own}
        )
    context = {"form": form, "groups": groups.items(), "nav": "workroom"}
    return render(request, "shop/house_rules.html", context, status=422 if form.is_bound else 200)


def _kept(request: HttpRequest, workroom: Workroom, own: Mapping[str, float]) -> HttpResponse:
    touched = change_rules(workroom, own)
    messages.success(request, f"Kept. {touched.words}")
    return redirect("house_rules:home")


@dataclass(frozen=True)
class Touched:
    """What a change of the rules touched: shapes that took it, and lays that are out of date now."""

    shapes: int = 0
    lays: int = 0

    @property
    def words(self) -> str:
        """In words."""
        if not self.shapes and not self.lays:
            return "Nothing that is there already had to change."
        shapes = f"{self.shapes} shape{'s' if self.shapes != 1 else ''} took it"
        return f"{shapes}; {self.lays} lay{'s are' if self.lays != 1 else ' is'} out of date."


def change_rules(workroom: Workroom, own: Mapping[str, float]) -> Touched:
    """Take the workroom's own figures. Shapes of open tags that had the old ones take the new; what a hand set
    otherwise stays.

    Raises BadInput for a figure out of bounds; then nothing is changed.
    """
    before, after = workroom.rules, rules_of(own)
    cloths = list(
        JobCloth.objects.filter(job__finished_at=None, job__taken_down_at=None).select_related("job", "cloth")
    )
    stale = {c.pk for c in cloths if cloth_standing(c).is_stale}
    with transaction.atomic():
        workroom.own_rules = dict(after.own)
        workroom.save(update_fields=["own_rules"])
        changed = 0
        for part in (
            JobPart.objects.filter(job__finished_at=None, job__taken_down_at=None)
            .exclude(shape=None)
            .select_related("job")
        ):
            changed += _shape_follows(part, before, after)
        Job.objects.forget_kept()
        JobCloth.objects.update(wanted_fingerprint="")
    fresh = JobCloth.objects.filter(job__finished_at=None, job__taken_down_at=None).select_related("job", "cloth")
    return Touched(changed, sum(1 for c in fresh if c.pk not in stale and cloth_standing(c).is_stale))


def _shape_follows(part: JobPart, before: Rules, after: Rules) -> bool:
    """Let a shape take changed allowances and a changed give of its pad; returns whether it did."""
    shape, was = read_piece(part.shape), part.shape
    edges = tuple(
        replace(e, adds=after.adds(e.join))
        if abs(e.adds - before.adds(e.join)) < SAME and part.shape_way != "block"
        else e
        for e in shape.edges
    )
    if edges != shape.edges:
        part.shape = write_piece(replace(shape, edges=edges))
        part.save(update_fields=["shape"])
    if part.has_pad and part.pad_measured is not None:
        layer, stack = part.part.layer, stack_of(part)
        if abs(part.pad_measured - stack.at_edge(before) - layer) < SAME:
            part.pad_measured = stack.at_edge(after) + layer
            part.save(update_fields=["pad_measured"])
            redo_block(part)
    return bool(part.shape != was)
