"""Forms of the trace step: one for each way to a shape."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.trace.joins import JOINS
from zonatome.standins.bench_camera import CLOTHS, COVERS, TABLES
from zonatome.web.jobs.length_forms import LengthField, WorkForm

MOST_SIDE = 10_000.0


class PairForm(WorkForm):
    """A shape that may serve the partner of a pair too."""

    pair = forms.BooleanField(label="Mirror it for its partner too", required=False, initial=True)

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


class BlockForm(WorkForm):
    """Board, pad and wrap; a round board has its diameter only."""

    board_width = LengthField(label="Board, width in front", most=MOST_SIDE)
    board_back = LengthField(label="Board, width at the back", most=MOST_SIDE, required=False, help_text="Left empty: as wide as in front.")
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

    def __init__(self, *args: Any, is_round: bool = False, **kwargs: Any) -> None:
        """Ask a round board for its diameter only."""
        super().__init__(*args, **kwargs)
        if is_round:
            self.fields["board_width"].label = "Board, diameter"
            del self.fields["board_depth"]
            del self.fields["board_back"]


class FileForm(PairForm):
    """A drawing of the old cover."""

    file = forms.FileField(
        label="Piece JSON, SVG or DXF",
        widget=forms.FileInput(attrs={"accept": ".json,.svg,.dxf"}),
        help_text="The largest closed outline is taken, as the finished line.",
    )
    field_order = ["file", "pair"]


class EdgeForm(WorkForm):
    """How one edge is held and what it adds."""

    join = forms.ChoiceField(label="Held", choices=[(j.key, j.name) for j in JOINS.values()])
    adds = LengthField(label="Adds", size="small", most=500, zero=True)


FORMS: dict[str, type[WorkForm]] = {
    "block": BlockForm,
    "rectangle": RectangleForm,
    "trapezoid": TrapezoidForm,
    "disc": DiscForm,
    "rounded": RoundedForm,
    "file": FileForm,
}


class MatForm(WorkForm):
    """The mat: how far the markers' centres are apart."""

    width = LengthField(label="Markers apart, across", least=100, most=5000)
    height = LengthField(label="Markers apart, up and down", least=100, most=5000)


class BenchForm(WorkForm):
    """What the stand-in for the bench camera photographs."""

    cover = forms.ChoiceField(label="Cover", choices=[(c, c) for c in COVERS])
    cloth = forms.ChoiceField(label="Cloth", choices=[(c, c) for c in CLOTHS])
    table = forms.ChoiceField(label="Table", choices=[(t, t) for t in TABLES])
    tilt = forms.IntegerField(label="Camera tilted, degrees", min_value=0, max_value=25, initial=10)
    shadow = forms.BooleanField(label="With a shadow", required=False)
    frayed = forms.BooleanField(label="Frayed", required=False)
