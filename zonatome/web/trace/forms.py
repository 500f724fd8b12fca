"""Forms of the trace step: one for each way to a shape."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.joins import JOINS
from zonatome.core.survey.kind import SIDES
from zonatome.core.trace.by_tape import MOST_ROWS
from zonatome.core.trace.derived import SORTS
from zonatome.core.trace.shape import MARKS
from zonatome.core.units import bare_unit, parse_length
from zonatome.standins.bench_camera import CLOTHS, COVERS, TABLES
from zonatome.web.base.length_forms import LengthField, WorkForm

MOST_SIDE = 10_000.0


class PairForm(WorkForm):
    """A shape that may serve the partner of a pair too."""

    pair = forms.BooleanField(label="Mirror it for its partner too", required=False, initial=True)
    sure = forms.BooleanField(label="It is so, keep it", required=False, widget=forms.HiddenInput)

    def ask(self, words: str) -> None:
        """Ask whether measures that are nothing like the usual ones are meant."""
        self.fields["sure"].widget = forms.CheckboxInput()
        self.add_error("sure", words)

    def __init__(self, *args: Any, has_partner: bool = False, **kwargs: Any) -> None:
        """Ask for the partner only where there is one."""
        super().__init__(*args, **kwargs)
        if not has_partner:
            del self.fields["pair"]


class RectangleForm(PairForm):
    """Width and height."""

    width = LengthField(label="Width", most=MOST_SIDE)
    height = LengthField(label="Height", most=MOST_SIDE)
    field_order = ["width", "height", "pair"]


class TrapezoidForm(PairForm):
    """Two widths and a height."""

    bottom = LengthField(label="Width at the bottom or front", most=MOST_SIDE)
    top = LengthField(label="Width at the top or back", most=MOST_SIDE)
    height = LengthField(label="Height", most=MOST_SIDE)
    field_order = ["bottom", "top", "height", "pair"]


class DiscForm(PairForm):
    """A diameter."""

    diameter = LengthField(label="Diameter", most=MOST_SIDE)
    field_order = ["diameter", "pair"]


class RoundedForm(PairForm):
    """Width, height and the corners' radius."""

    width = LengthField(label="Width", most=MOST_SIDE)
    height = LengthField(label="Height", most=MOST_SIDE)
    radius = LengthField(label="Radius of the corners", most=MOST_SIDE / 2)
    field_order = ["width", "height", "radius", "pair"]


class BlockForm(PairForm):
    """Board, pad and wrap; a round board has its diameter only."""

    board_width = LengthField(label="Board, width in front", most=MOST_SIDE)
    board_back = LengthField(
        label="Board, width at the back", most=MOST_SIDE, required=False, help_text="Left empty: as wide as in front."
    )
    board_depth = LengthField(label="Board, depth", most=MOST_SIDE)
    board_thickness = LengthField(label="Board, thickness", size="small", most=300, zero=True)
    pad = LengthField(
        label="Pad under the cover",
        size="small",
        most=400,
        zero=True,
        help_text="What it measures pressed by the cover; the Pad step sets it from foam and wadding.",
    )
    wrap = LengthField(label="Goes under the board", size="small", least=10, most=200)

    field_order = ["board_width", "board_back", "board_depth", "board_thickness", "pad", "wrap", "pair"]

    def __init__(self, *args: Any, is_round: bool = False, **kwargs: Any) -> None:
        """Ask a round board for its diameter only."""
        super().__init__(*args, **kwargs)
        if is_round:
            self.fields["board_width"].label = "Board, diameter"
            del self.fields["board_depth"]
            del self.fields["board_back"]


class EllipseForm(RectangleForm):
    """Its two diameters."""


class TForm(PairForm):
    """A T: the front with its ears before the arms, and the body behind them."""

    width = LengthField(label="Width in front, over the ears", most=MOST_SIDE)
    body = LengthField(label="Width behind the ears", most=MOST_SIDE)
    height = LengthField(label="Depth, front to back", most=MOST_SIDE)
    ears = LengthField(label="Depth of the ears", most=MOST_SIDE)
    field_order = ["width", "body", "height", "ears", "pair"]


class OffsetsForm(PairForm):
    """Widths at heights, left and right of a centre line, one row a line."""

    rows = forms.CharField(
        label="Height; left of the centre; right of it",
        widget=forms.Textarea(attrs={"rows": 6, "class": "length-box"}),
        max_length=4000,
        help_text="One height a line, from the bottom up, such as 0; 21; 22. Draw a centre line on the old cover and "
        "measure out from it.",
    )
    field_order = ["rows", "pair"]

    def clean_rows(self) -> list[tuple[float, float, float]]:
        """Return the rows in mm; each refusal names its line."""
        bare, made = bare_unit(self.units, "panel"), []
        for number, line in enumerate(
            (row for row in (self.cleaned_data["rows"] or "").splitlines() if row.strip()), 1
        ):
            cells = [cell.strip() for cell in line.split(";")]
            if len(cells) != 3 or number > MOST_ROWS:
                raise forms.ValidationError(
                    f"Line {number}: expected height; left; right, at most {MOST_ROWS} lines; got "
                    f"“{line.strip()[:40]}”."
                )
            try:
                row = [
                    0.0
                    if c in ("0", "")
                    else parse_length(c, bare=bare, key=f"Line {number}", least=-MOST_SIDE, most=MOST_SIDE)
                    for c in cells
                ]
            except BadInput as refusal:
                raise forms.ValidationError(f"Line {number}: {refusal.told}") from refusal
            made.append((row[0], row[1], row[2]))
        return made


class BoardForm(PairForm):
    """A template off the board or frame: its own outline, edge for edge."""

    board_width = LengthField(label="Width in front", most=MOST_SIDE)
    board_back = LengthField(
        label="Width at the back", most=MOST_SIDE, required=False, help_text="Left empty: as wide as in front."
    )
    board_depth = LengthField(
        label="Depth or height", most=MOST_SIDE, required=False, help_text="Not needed where it is round."
    )
    field_order = ["board_width", "board_back", "board_depth", "pair"]


class SourceForm(PairForm):
    """A shape that is made from another one, chosen among those there are."""

    source = forms.ChoiceField(label="Shape of another tag", choices=[])

    def __init__(self, *args: Any, sources: list[tuple[str, str]] | None = None, **kwargs: Any) -> None:
        """Offer what there is."""
        super().__init__(*args, **kwargs)
        self.fields["source"].choices = sources or []  # type: ignore[attr-defined]


class DerivedForm(SourceForm):
    """A band or boxing from the edge that it is sewn to."""

    source = forms.ChoiceField(label="As long as", choices=[])
    height = LengthField(label="Height", most=2000)
    strips = forms.IntegerField(label="Of how many equal strips", min_value=1, max_value=12, initial=1, required=False)
    field_order = ["source", "height", "strips", "pair"]


class LibraryForm(SourceForm):
    """A shape of another tag."""

    field_order = ["source", "pair"]


class FileForm(PairForm):
    """A drawing of the old cover."""

    file = forms.FileField(
        label="Piece JSON, SVG or DXF",
        widget=forms.FileInput(attrs={"accept": ".json,.svg,.dxf"}),
        help_text="The largest closed outline is taken, as the finished line.",
    )
    unit = forms.ChoiceField(
        label="One unit of the drawing is",
        required=False,
        choices=[
            ("", "what the file says, else 1 mm"),
            ("mm", "1 mm"),
            ("cm", "1 cm"),
            ("in", "1 inch"),
            ("pt", "1 point"),
            ("px", "1 pixel, 1/96 inch"),
        ],
    )
    which = forms.IntegerField(label="Which outline, by size", min_value=1, max_value=99, initial=1, required=False)
    field_order = ["file", "unit", "which", "pair"]


class EdgeForm(WorkForm):
    """How one edge is held and what it adds."""

    join = forms.ChoiceField(label="Held", choices=[(j.key, j.name) for j in JOINS.values()])
    adds = LengthField(label="Adds", size="small", most=500, zero=True)
    side = forms.ChoiceField(label="Its side", choices=[(s, s) for s in SIDES], required=False)
    gap = LengthField(label="Tucked: how deep the gap is", size="small", most=300, zero=True, required=False)


FORMS: dict[str, type[WorkForm]] = {
    "block": BlockForm,
    "rectangle": RectangleForm,
    "trapezoid": TrapezoidForm,
    "disc": DiscForm,
    "ellipse": EllipseForm,
    "rounded": RoundedForm,
    "t": TForm,
    "offsets": OffsetsForm,
    "board": BoardForm,
    "edge": DerivedForm,
    "library": LibraryForm,
    "file": FileForm,
}


# --- what one press does to a shape


class NothingForm(WorkForm):
    """An act that asks for nothing."""


class LineForm(WorkForm):
    """A centre line that was drawn: how far from the left it stands at the bottom and at the top.

    Empty: the one that is found.
    """

    low = LengthField(label="at the bottom, from the left", required=False, zero=True, most=MOST_SIDE)
    high = LengthField(label="at the top, from the left", required=False, zero=True, most=MOST_SIDE)


class HalveForm(LineForm):
    """Which half to take."""

    take = forms.ChoiceField(choices=[("left", "left"), ("right", "right"), ("average", "average")])


class EdgeNameForm(WorkForm):
    """An edge by its letter."""

    edge = forms.CharField(max_length=8)


class PartForm(EdgeNameForm):
    """Where an edge is parted in two."""

    along = LengthField(label="From its start", most=MOST_SIDE)


class StretchForm(WorkForm):
    """By how many per cent an old cover had stretched."""

    across = forms.FloatField(label="Across, per cent", min_value=0, max_value=15, initial=0)
    along = forms.FloatField(label="Along, per cent", min_value=0, max_value=15, initial=0)


class NotchForm(WorkForm):
    """A matching notch on an edge."""

    edge = forms.CharField(label="Edge", max_length=8)
    along = LengthField(label="From its start", zero=True, most=MOST_SIDE)
    double = forms.BooleanField(label="double, toward the back", required=False)


class WhichForm(WorkForm):
    """One of several by its number."""

    which = forms.IntegerField(min_value=0, max_value=400)


class ButtonsForm(WorkForm):
    """A grid of buttons, as it is in the finished panel."""

    rows = forms.IntegerField(label="Rows", min_value=1, max_value=12, initial=3)
    columns = forms.IntegerField(label="Columns", min_value=1, max_value=12, initial=3)
    across = LengthField(label="Apart, across", least=20, most=600)
    down = LengthField(label="Apart, down", least=20, most=600)
    deep = LengthField(label="Drawn in", size="small", zero=True, most=100)


class ChannelsForm(WorkForm):
    """Parallel stitched lines."""

    apart = LengthField(label="Lines apart", least=20, most=600)
    deep = LengthField(label="Drawn in", size="small", zero=True, most=100)
    way = forms.ChoiceField(label="They run", choices=[("upright", "up and down"), ("across", "across")])


class PointForm(WorkForm):
    """A mark at a place: a point, or a line across at that height."""

    means = forms.ChoiceField(
        label="Mark", choices=[(k, v) for k, v in MARKS.items() if k not in ("button", "channel", "relief", "pleat")]
    )
    left = LengthField(label="From the left", zero=True, most=MOST_SIDE)
    up = LengthField(label="From the bottom", zero=True, most=MOST_SIDE)


class MeansForm(WorkForm):
    """All marks of one meaning."""

    means = forms.ChoiceField(choices=list(MARKS.items()))


class MendForm(WorkForm):
    """A seam, and how to mend it."""

    seam = forms.CharField(max_length=90)
    mend = forms.CharField(max_length=30)


class EaseForm(WorkForm):
    """By how much an edge may be longer than its partner."""

    edge = forms.CharField(label="Edge", max_length=8)
    percent = forms.FloatField(label="Ease, per cent", min_value=0, max_value=5)


class BandForm(WorkForm):
    """A band sewn to a side."""

    name = forms.CharField(label="Call it", max_length=60, initial="Band")
    side = forms.ChoiceField(label="Sewn to its", choices=[(s, s) for s in ("bottom", "left", "right", "top")])
    height = LengthField(label="Height", most=2000)
    lower = forms.ChoiceField(
        label="Lower edge", choices=[(j.key, j.name) for j in JOINS.values()], initial="stapled_under"
    )


class FlyForm(WorkForm):
    """Where a panel goes out of sight."""

    side = forms.ChoiceField(label="Out of sight at its", choices=[(s, s) for s in ("bottom", "top", "left", "right")])
    hidden = LengthField(label="From that side to the tuck line", most=MOST_SIDE)


class CushionForm(WorkForm):
    """Which sort of cushion, and its measures."""

    sort = forms.ChoiceField(label="Sort", choices=list(SORTS.items()))
    height = LengthField(label="Height, or a bolster’s diameter", required=False, most=600)
    length = LengthField(label="A bolster’s length", required=False, most=3000)
    zip_round = LengthField(label="Zip round each back corner", size="small", zero=True, most=200)


class StripsForm(WorkForm):
    """A long panel cut in like strips."""

    strips = forms.IntegerField(label="In so many like strips", min_value=2, max_value=12, initial=2)


class MatForm(WorkForm):
    """The mat: how far the markers' centres are apart."""

    width = LengthField(label="Apart, across", least=100, most=5000)
    height = LengthField(label="Apart, down", least=100, most=5000)


class BenchForm(WorkForm):
    """What the stand-in for the bench camera photographs."""

    cover = forms.ChoiceField(label="Cover", choices=[(c, c) for c in COVERS])
    cloth = forms.ChoiceField(label="Cloth", choices=[(c, c) for c in CLOTHS])
    table = forms.ChoiceField(label="Table", choices=[(t, t) for t in TABLES])
    light = forms.ChoiceField(
        label="Light", choices=[("0.4", "from a window"), ("0", "even"), ("1", "a lamp at one side")]
    )
    tilt = forms.IntegerField(label="Camera tilted, degrees", min_value=0, max_value=25, initial=10)
    shadow = forms.BooleanField(label="With a shadow", required=False)
    frayed = forms.BooleanField(label="Frayed", required=False)
