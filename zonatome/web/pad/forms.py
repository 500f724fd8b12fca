"""Forms of the pad step: a stack with its layers, its buttons and heights; the board under it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from django import forms

from zonatome.core.errors import BadInput
from zonatome.core.pad.sorts import FOAMS, SCHOOLS, SORTS, Sort
from zonatome.core.pad.stack import MOST_LAYERS, SITTER, Buttons, Heights, Layer, Stack
from zonatome.core.survey.kind import CHANNEL_DEEP, Channels
from zonatome.core.units import Units
from zonatome.web.base.length_forms import LengthField, WorkForm

CORNERS = [("cut", "cut out at the corners"), ("pinched", "pinched at the corners")]
WAYS = {
    "sinuous": [("deep", "front to back"), ("across", "side to side")],
    "edge_roll": [("front", "along the front"), ("round", "all round")],
}
WHAT = {"sinuous": "crown", "coil": "height, lashed"}  # what the thickness of a sort is called
STATES = [("new", "new"), ("kept", "was there, kept")]


class LayerForm(WorkForm):
    """One layer: its thickness, whether it was there, and what belongs to its sort."""

    sort = forms.ChoiceField(choices=[(s.key, s.name) for s in SORTS.values()], widget=forms.HiddenInput)
    thickness = LengthField(label="Thickness", size="small", most=10_000, zero=True)
    state = forms.ChoiceField(label="New or kept", choices=STATES, required=False)
    foam = forms.ChoiceField(label="Grade", choices=[(f.key, f.name) for f in FOAMS.values()], required=False)
    school = forms.ChoiceField(label="Its size", choices=[(s.key, s.name) for s in SCHOOLS.values()], required=False)
    over = LengthField(label="Beyond it, each side", size="small", most=400, zero=True, required=False)
    hardness = forms.FloatField(label="Hardness, kPa at 40 %", required=False)
    stretch = forms.FloatField(label="Stretched by, %", required=False)
    way = forms.ChoiceField(label="Runs", required=False)
    corner = forms.ChoiceField(label="Corners", choices=CORNERS, required=False)
    split = forms.BooleanField(label="Split from one twice as thick", required=False)

    def __init__(self, *args: Any, made: Sort, **kwargs: Any) -> None:
        """Ask only what belongs to the sort."""
        super().__init__(*args, **kwargs)
        self.made = made
        gone = {"foam", "school", "over", "hardness"} if made.group != "foam" else set()
        gone |= {"school"} if made.key == "crown" else set()
        gone |= {"stretch"} if made.key not in ("webbing", "elastic") else set()
        gone |= {"corner", "split"} if made.key != "wadding" else set()
        gone |= {"way"} if made.key not in WAYS else set()
        for name in gone:
            del self.fields[name]
        if "way" in self.fields:
            self.fields["way"].choices = WAYS[made.key]  # type: ignore[attr-defined]
        self.what = WHAT.get(made.key, "")
        self.fields["thickness"].label = f"{made.name.capitalize()}, {self.what or 'thick'}"

    @property
    def more(self) -> list[forms.BoundField]:
        """The boxes beside sort and thickness."""
        return [field for field in self if field.name not in ("sort", "thickness")]

    @property
    def more_wrong(self) -> bool:
        """Whether one of those holds what it can't hold."""
        return any(field.errors for field in self.more)

    @property
    def words(self) -> str:
        """What those boxes say, on one line."""
        told = []
        for name in ("state", "foam", "school", "way", "corner"):
            if name in self.fields:
                choices = dict(self.fields[name].choices)  # type: ignore[attr-defined]
                told.append(str(choices.get(self[name].value() or "", "")))
        if "stretch" in self.fields and self["stretch"].value():
            told.append(f"stretched by {self['stretch'].value()} %")
        return " · ".join(word for word in told if word)

    def layer(self) -> Layer:
        """Return the layer that was typed. Raises BadInput for what no pad has."""
        told = self.cleaned_data
        return Layer(
            self.made.key,
            told["thickness"],
            told.get("state") == "kept" or self.made.key == "old_pad",
            told.get("foam") or "medium",
            told.get("school") or "over",
            told.get("over"),
            told.get("hardness"),
            (told.get("stretch") or 0.0) / 100,
            told.get("way") or ("front" if self.made.key == "edge_roll" else "deep"),
            told.get("corner") or "cut",
            bool(told.get("split")),
        )


class PadForm(WorkForm):
    """The rails, the heights, the buttons of a pad."""

    rail = LengthField(label="Rails, how wide", size="small", most=1000, zero=True, required=False,
                       help_text="0 for a board")  # fmt: skip
    rail_top = LengthField(label="Floor to the rail's top", most=2000, required=False)
    before = LengthField(label="Seat height as it was", most=2000, required=False)
    table = LengthField(label="Table, underside", most=2000, required=False)
    arms = LengthField(label="Arms, upper side", most=2000, required=False)
    rebate = LengthField(label="Rebate, deep", size="small", most=300, required=False)
    sitter = forms.FloatField(label="Sitter, kg", required=False, min_value=10, max_value=300)
    spring_tried = forms.BooleanField(label="One spring is cut and tried, the rest may be cut", required=False)
    rows = forms.IntegerField(label="Rows", required=False, min_value=0, max_value=30)
    columns = forms.IntegerField(label="In a row", required=False, min_value=0, max_value=30)
    grid = forms.ChoiceField(label="Grid", choices=[("straight", "straight"), ("diamond", "diamond")], required=False)
    across = LengthField(label="Apart, across", most=2000, required=False, help_text="Empty: evenly")
    down = LengthField(label="Apart, down", most=2000, required=False)
    deep = LengthField(label="Drawn in by", size="small", most=200, zero=True, required=False)
    size = LengthField(label="Button", size="small", most=80, required=False)
    channel_apart = LengthField(label="Lines apart", most=2000, zero=True, required=False, help_text="0: none")
    channel_deep = LengthField(label="Drawn in by", size="small", most=200, zero=True, required=False)
    channel_way = forms.ChoiceField(label="They run", required=False,
                                    choices=[("upright", "up and down"), ("across", "across")])  # fmt: skip

    HEIGHTS = ("rail_top", "before", "table", "arms", "rebate")  # as the core has them
    BUTTONS = ("rows", "columns", "grid", "across", "down", "deep", "size")
    CHANNELS = ("channel_apart", "channel_deep", "channel_way")

    @property
    def refused_in(self) -> set[str]:
        """Which of its groups a box was refused in: they stand open, so that one sees it."""
        groups = {"heights": (*self.HEIGHTS, "sitter"), "buttons": self.BUTTONS, "channels": self.CHANNELS}
        return {group for group, names in groups.items() if any(name in self.errors for name in names)}

    @property
    def heights(self) -> list[forms.BoundField]:
        """The boxes of the heights."""
        return [self[name] for name in (*self.HEIGHTS, "sitter")]

    @property
    def buttons(self) -> list[forms.BoundField]:
        """The boxes of the buttons."""
        return [self[name] for name in self.BUTTONS]

    @property
    def channels(self) -> list[forms.BoundField]:
        """The boxes of the channels."""
        return [self[name] for name in self.CHANNELS]


class StackForms:
    """All boxes of a pad: its layers from the wood out and what belongs to all of them."""

    def __init__(self, stack: Stack, units: Units, sent: Mapping[str, Any] | None = None) -> None:
        """Show a stack; or what was sent, as it was typed."""
        self.stack = stack
        if sent is None:
            self.main = PadForm(units=units, initial=_initial(stack))
            self.layers = [
                LayerForm(units=units, prefix=f"layer{n}", made=layer.made, initial=_layer_initial(layer))
                for n, layer in enumerate(stack.layers)
            ]
            return
        self.main = PadForm(sent, units=units)
        self.layers = []
        for n in range(MOST_LAYERS + 1):
            sort = sent.get(f"layer{n}-sort")
            if sort in SORTS:
                self.layers.append(LayerForm(sent, units=units, prefix=f"layer{n}", made=SORTS[str(sort)]))

    @property
    def downward(self) -> list[tuple[int, LayerForm]]:
        """The layers from the cover down, each with its place from the wood."""
        return list(enumerate(self.layers))[::-1]

    def is_valid(self) -> bool:
        """Whether every box holds what it can hold."""
        return all([self.main.is_valid(), *(form.is_valid() for form in self.layers)])

    def read(self) -> Stack:
        """Return the stack that was typed. Raises BadInput for what no pad has, told beside its box."""
        layers = []
        for form in self.layers:
            try:
                layers.append(form.layer())
            except BadInput as refusal:
                form.refuse(refusal)
                raise
        told = self.main.cleaned_data
        buttons = None
        if told["rows"] and told["columns"]:
            usual = Buttons(told["rows"], told["columns"], told["grid"] == "diamond")
            typed = {key: told[key] for key in ("across", "down", "deep", "size") if told[key] is not None}
            buttons = replace(usual, **typed)
        try:
            heights = Heights(*(told[name] for name in PadForm.HEIGHTS))
        except BadInput as refusal:
            self.main.refuse(refusal)
            raise
        channels = None
        if told["channel_apart"]:
            deep = told["channel_deep"] if told["channel_deep"] is not None else CHANNEL_DEEP
            channels = Channels(told["channel_apart"], deep, told["channel_way"] != "across")
        return Stack(
            tuple(layers), buttons, heights, told["rail"] or 0.0, told["spring_tried"], told["sitter"] or SITTER,
            channels,
        )  # fmt: skip

    def refuse(self, refusal: BadInput) -> None:
        """Show a refusal beside the box it belongs to, or above them all."""
        if not any(form.errors for form in (self.main, *self.layers)):
            self.main.refuse(refusal)


def _initial(stack: Stack) -> dict[str, Any]:
    found: dict[str, Any] = {
        "rail": stack.rail,
        "spring_tried": stack.spring_tried,
        "sitter": f"{stack.sitter:g}",
        **{k: getattr(stack.heights, k) for k in PadForm.HEIGHTS},
    }
    if stack.buttons:
        found |= {k: getattr(stack.buttons, k) for k in ("rows", "columns", "across", "down", "deep", "size")}
        found["grid"] = "diamond" if stack.buttons.diamond else "straight"
    if stack.channels:
        found |= {"channel_apart": stack.channels.apart, "channel_deep": stack.channels.deep}
        found["channel_way"] = "upright" if stack.channels.upright else "across"
    return found


def _layer_initial(layer: Layer) -> dict[str, Any]:
    return {
        "sort": layer.sort,
        "thickness": layer.thickness,
        "state": "kept" if layer.kept else "new",
        "foam": layer.foam,
        "school": layer.school,
        "over": layer.over,
        "hardness": layer.hardness,
        "stretch": round(layer.stretch * 100, 1) if layer.stretch else None,
        "way": layer.way,
        "corner": layer.corner,
        "split": layer.split,
    }


class FoamForm(WorkForm):
    """A piece of foam that goes into the store."""

    foam = forms.ChoiceField(label="Grade", choices=[(f.key, f.name) for f in FOAMS.values()])
    thickness = LengthField(label="Thickness", size="small", most=300)
    width = LengthField(label="Long", most=5000)
    depth = LengthField(label="Wide", most=5000)


class BoardForm(WorkForm):
    """The board or frame under a panel that has no block."""

    board_width = LengthField(label="Board, width in front", most=10_000)
    board_back = LengthField(label="Board, width at the back", most=10_000, required=False)
    board_depth = LengthField(label="Board, depth", most=10_000)
    board_thickness = LengthField(label="Board or rail, thickness", size="small", most=300)

    def __init__(self, *args: Any, is_round: bool = False, **kwargs: Any) -> None:
        """Ask a round board for its diameter only."""
        super().__init__(*args, **kwargs)
        if is_round:
            self.fields["board_width"].label = "Board, diameter"
            del self.fields["board_depth"]
            del self.fields["board_back"]
