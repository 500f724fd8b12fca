"""Forms of the lay step and the cloth store."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.lay.pattern.centring import PATTERNED, WITH_MOTIF, repeat_of
from zonatome.core.lay.request import Repeat
from zonatome.core.outline import Outline, outline_of
from zonatome.web.base.length_forms import LengthField, WorkForm, WorkModelForm
from zonatome.web.lay.models import Cloth, JobCloth, Remnant

NARROW = 400.0  # mm: a roll narrower than this is asked about
BREAKS = 2  # price breaks that the form takes
REPEAT = ("repeat_across", "repeat_along", "first_across", "first_along")


class ClothForm(WorkModelForm):
    """A cloth as the seller offers it."""

    width = LengthField(label="Width, edge to edge", least=100, most=10_000)
    selvage = LengthField(label="Selvage, each edge", size="small", most=200, zero=True, initial=12.0)
    repeat_across = LengthField(label="Repeat across the roll", size="small", least=5, most=3000, required=False)
    repeat_along = LengthField(label="Repeat along the roll", size="small", least=5, most=3000, required=False)
    first_across = LengthField(
        label="First motif's middle, from the left edge",
        size="small",
        most=3000,
        zero=True,
        initial=0.0,
        required=False,
    )
    first_along = LengthField(
        label="and from the squared end", size="small", most=3000, zero=True, initial=0.0, required=False
    )
    thickness = LengthField(label="Thickness", size="small", most=10, initial=1.0)
    least = LengthField(label="Least cut", size="cloth", most=100_000, zero=True, required=False, initial=0.0)
    break_1_from = LengthField(label="From", size="cloth", most=1_000_000, required=False)
    break_1_price = forms.DecimalField(label="it costs", min_value=0, max_digits=8, decimal_places=2, required=False)
    break_2_from = LengthField(label="From", size="cloth", most=1_000_000, required=False)
    break_2_price = forms.DecimalField(label="it costs", min_value=0, max_digits=8, decimal_places=2, required=False)

    sure = forms.BooleanField(label="It is so narrow", required=False, widget=forms.HiddenInput)

    patterned = PATTERNED
    with_motif = WITH_MOTIF

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """A cloth of which no pattern is told is plain."""
        super().__init__(*args, **kwargs)
        self.fields["pattern"].required = False
        self.fields["price"].required = False
        self.fields["price"].help_text = "Left empty: the customer’s own, it costs nothing."
        for n, (length, price) in enumerate((self.instance.breaks or [])[:BREAKS], 1):
            self.initial.update({f"break_{n}_from": float(length), f"break_{n}_price": price})

    class Meta:
        model = Cloth
        fields = (
            "name", "colour", "width", "selvage", "direction", "pattern", *REPEAT, "thickness", "stretch",
            "may_railroad", "is_hide",
            "price", "sold_in", "sold_by", "least", "lot", "wear", "certified",
        )  # fmt: skip
        widgets = {"colour": forms.TextInput(attrs={"type": "color"})}
        labels = {
            "colour": "Its colour, for the picture",
            "price": "Price a metre or yard",
            "sold_in": "Priced by the",
            "sold_by": "Sold in steps of",
            "direction": "Direction",
            "pattern": "Pattern",
            "stretch": "Stretches",
            "may_railroad": "May be railroaded",
            "is_hide": "Comes in hides, priced by the square metre or yard",
            "lot": "Lot",
        }

    def clean_price(self) -> Decimal:
        """A cloth without a price is the customer's own."""
        return self.cleaned_data["price"] or Decimal(0)

    def clean(self) -> dict[str, Any]:
        """Ask for the repeats that the pattern needs, and about a roll as narrow as a ribbon: a slip of the unit is
        not taken.
        """
        told = super().clean() or self.cleaned_data
        width = told.get("width")
        if width and width < NARROW and not told.get("is_hide") and not told.get("sure"):
            self.fields["sure"].widget = forms.CheckboxInput()
            self.add_error(
                "sure",
                f"A roll only {self['width'].value()} wide? Cloth is usually 120 to 150 cm. Tick it if it is so.",
            )
        told["pattern"] = told.get("pattern") or "plain"
        for key in ("first_across", "first_along"):
            told[key] = told.get(key) or 0.0
        told["least"] = told.get("least") or 0.0
        self._breaks(told)
        along, across = (None if key in self.errors else told.get(key) for key in ("repeat_along", "repeat_across"))
        if "pattern" in told and not self.errors:
            try:
                repeat_of(told["pattern"], along=along, across=across)
            except BadInput as refusal:
                self.add_error(refusal.key, refusal.sentence)
        return told

    def _breaks(self, told: dict[str, Any]) -> None:
        """Take the price breaks: each with a length and a price, rising."""
        found: list[list[float]] = []
        for n in range(1, BREAKS + 1):
            length, price = told.get(f"break_{n}_from"), told.get(f"break_{n}_price")
            if (length is None) != (price is None):
                self.add_error(
                    f"break_{n}_from" if length is None else f"break_{n}_price",
                    "Expected both: from which length, and the price then.",
                )
            elif length is not None and price is not None:
                found.append([length, float(price)])
        self.instance.breaks = sorted(found)


class UseClothForm(forms.Form):
    """Take a cloth from the store for a job."""

    cloth = forms.ModelChoiceField(
        queryset=Cloth.objects.filter(is_in_store=True), empty_label=None, label="Cloth from the store"
    )
    role = forms.ChoiceField(choices=JobCloth.ROLES, label="For")


class RulesForm(WorkForm):
    """Gap, squaring and margin of one lay."""

    gap = LengthField(label="Gap between pieces", size="small", most=100, zero=True)
    squaring = LengthField(label="For squaring", size="small", most=2000, zero=True)
    margin = LengthField(label="Margin", size="small", most=5000, zero=True)
    railroaded = forms.BooleanField(label="Railroaded: up and down of the panels across the roll", required=False)
    any_angle = forms.BooleanField(label="Vinyl or hide: at any angle, where that saves", required=False)
    follow_on = forms.BooleanField(label="Front band and boxing follow on from the seat’s motif", required=False)


class CameForm(WorkForm):
    """Ordered cloth that has come: what it measures."""

    came = LengthField(label="Measures", size="cloth", least=10, most=1_000_000)


class OrderForm(WorkForm):
    """A part of what a lay takes, from a lot that does not hold all of it."""

    length = LengthField(label="Of it", size="cloth", least=10, most=1_000_000)


class HandForm(forms.Form):
    """One act of the hand on the lay: which, on which piece, by how many millimetres."""

    act = forms.CharField(max_length=8)
    key = forms.CharField(max_length=80, required=False)
    along = forms.FloatField(required=False, min_value=-100_000, max_value=100_000)
    across = forms.FloatField(required=False, min_value=-100_000, max_value=100_000)

    def clean_key(self) -> str:
        """Name the piece as the core does: the page writes a point between piece and copy."""
        return ":".join(self.cleaned_data["key"].rsplit(".", 1))

    def clean_along(self) -> float:
        """Nothing told is no way along."""
        return self.cleaned_data["along"] or 0.0

    def clean_across(self) -> float:
        """Nothing told is no way across."""
        return self.cleaned_data["across"] or 0.0


class RemnantForm(WorkForm):
    """A piece of cloth by its length and width."""

    kind = forms.ChoiceField(label="It is a", choices=Remnant.KINDS)
    along = LengthField(label="Long, the way up to the left", least=50, most=60_000)
    across = LengthField(label="Wide", least=50, most=10_000)
    words = forms.CharField(label="Where it lies, what to know", max_length=80, required=False)


class MatPhotoForm(WorkForm):
    """A piece of cloth by its photo on the mat."""

    kind = forms.ChoiceField(label="It is a", choices=Remnant.KINDS)
    width = LengthField(label="Markers apart, across", least=200, most=4000)
    height = LengthField(label="and down", least=200, most=4000)
    turns = forms.ChoiceField(
        label="The top points, in the photo,", choices=[("0", "up"), ("1", "right"), ("2", "down"), ("3", "left")]
    )
    words = forms.CharField(label="Where it lies, what to know", max_length=80, required=False)

    def lying(self, points: Sequence[Sequence[float]]) -> list[list[float]]:
        """Return an outline of the mat's frame as it lies in the store: its way up toward x = 0,
        its corner at (0, 0).
        """
        turned = outline_of(points).turned(90 * int(self.cleaned_data["turns"]) + 90)
        x0, y0, _, _ = turned.bounds
        return [[round(x, 1), round(y, 1)] for x, y in turned.moved(-x0, -y0).points]


class TileForm(forms.Form):
    """Which part of a photo is one repeat, in hundredths of its sides."""

    left = forms.FloatField(label="From the left, %", min_value=0, max_value=100, initial=0)
    right = forms.FloatField(label="to, %", min_value=0, max_value=100, initial=100)
    upper = forms.FloatField(label="From the top, %", min_value=0, max_value=100, initial=0)
    lower = forms.FloatField(label="to, %", min_value=0, max_value=100, initial=100)

    def box(self) -> tuple[float, float, float, float]:
        """Return left, upper, right, lower as shares."""
        told = self.cleaned_data
        return told["left"] / 100, told["upper"] / 100, told["right"] / 100, told["lower"] / 100


class MarkForm(WorkForm):
    """A place on the cloth that no piece may touch, as it is measured at the table."""

    from_end = LengthField(label="From the squared end", most=60_000, zero=True)
    from_left = LengthField(label="From the left selvage", most=10_000, zero=True)
    along = LengthField(label="Long, up the roll", size="small", least=2, most=20_000)
    across = LengthField(label="Wide, across", size="small", least=2, most=10_000)

    def points_on(self, cloth: Outline) -> list[list[float]]:
        """Return its corners in the frame of a piece of cloth, measured from its left end and upper edge.

        Raises BadInput where it begins beyond the far edge.
        """
        x, low, _, high = cloth.bounds
        end, left = self.cleaned_data["from_end"], self.cleaned_data["from_left"]
        along, across = self.cleaned_data["along"], self.cleaned_data["across"]
        if left >= high - low:
            raise BadInput("from_left", left, f"a place on the cloth, which is {high - low:.0f} mm wide")
        x0, x1, y0, y1 = x + end, x + end + along, high - left - across, high - left
        return [[round(v, 2) for v in point] for point in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))]


class MotifForm(WorkForm):
    """Where the middle of a motif stands on a piece of cloth, as it is measured at the table; a stripe has one measure
    only.
    """

    from_end = LengthField(label="From its left end", most=60_000, zero=True)
    from_upper = LengthField(label="From its upper edge", most=10_000, zero=True)

    def __init__(self, *args: Any, repeat: Repeat, **kwargs: Any) -> None:
        """Ask for what the cloth's `repeat` binds."""
        super().__init__(*args, **kwargs)
        for key, step in (("from_end", repeat.along), ("from_upper", repeat.across)):
            if step is None:
                del self.fields[key]

    def spot(self, cloth: Outline) -> tuple[float, float]:
        """Return it in the frame of a piece of cloth; 0 for what is not asked."""
        x, _, _, high = cloth.bounds
        end, upper = self.cleaned_data.get("from_end"), self.cleaned_data.get("from_upper")
        return 0.0 if end is None else x + end, 0.0 if upper is None else high - upper


class HeldForm(WorkForm):
    """A block of cloth held back."""

    words = forms.CharField(label="For what", max_length=60, min_length=1)
    along = LengthField(label="Long, up the roll", least=20, most=20_000)
    across = LengthField(label="Wide, across", least=20, most=10_000)
    count = forms.IntegerField(label="How many", min_value=1, max_value=60, initial=1)
