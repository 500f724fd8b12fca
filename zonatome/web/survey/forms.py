"""What is typed at the survey: the clearance of a drop-in seat, panels of one's own, restyling."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.core.joins import JOINS
from zonatome.core.survey.kind import SIDES, Kind, edge_words
from zonatome.core.trim.welt import KINDS
from zonatome.web.base.length_forms import LengthField, WorkForm

SIDE_CHOICES = [
    (s, {"top": "above it", "bottom": "below it", "left": "left of it", "right": "right of it"}[s]) for s in SIDES
]
JOIN_CHOICES = [(j.key, j.name) for j in JOINS.values()]


def parts_of(kind: Kind, *, panels: bool = True) -> list[tuple[str, str]]:
    """Return the parts to choose from, by name."""
    return [(p.key, p.name) for p in kind.parts if p.is_cut or not panels]


class ClearanceForm(WorkForm):
    """The measures of the drop-in sum."""

    rebate_width = LengthField(label="Rebate, across", least=50, most=3000)
    rebate_depth = LengthField(label="Rebate, front to back", least=50, most=3000)
    board_width = LengthField(label="Bare board, across", least=50, most=3000)
    board_depth = LengthField(label="Bare board, front to back", least=50, most=3000)
    old_cover = LengthField(label="Old cover, thick", size="small", most=40, zero=True)
    new_cloth = LengthField(label="New cloth, thick", size="small", most=40, zero=True)
    wrap = LengthField(label="Wadding pressed thin", size="small", most=40, zero=True)


class AddPartForm(WorkForm):
    """A part that the kind does not have."""

    name = forms.CharField(label="Name", max_length=60)
    what = forms.ChoiceField(
        label="What it is", choices=[("panel", "a panel"), ("trim", "a trim"), ("hardware", "hardware")]
    )
    on = forms.ChoiceField(label="Against", required=False)
    side = forms.ChoiceField(label="Where", choices=SIDE_CHOICES)
    join = forms.ChoiceField(label="Joined by", choices=JOIN_CHOICES)
    width = LengthField(label="Width", least=5, most=5000, required=False)
    height = LengthField(label="Height", least=5, most=5000, required=False)
    new = forms.BooleanField(label="Only in the new cover: it was not there before", required=False)

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer the panels that are there."""
        super().__init__(*args, **kwargs)
        self.fields["on"].choices = [("", "nothing: it is loose"), *parts_of(kind)]  # type: ignore[attr-defined]


class SplitForm(WorkForm):
    """A panel split in two."""

    first = forms.CharField(label="Left or lower strip", max_length=60)
    second = forms.CharField(label="Right or upper strip", max_length=60)
    way = forms.ChoiceField(label="Split", choices=[("across", "side by side"), ("along", "one above the other")])
    at = forms.IntegerField(label="The first takes, per cent", min_value=5, max_value=95, initial=50)
    new = forms.BooleanField(label="Only in the new cover", required=False)


class JoinForm(WorkForm):
    """Two panels that meet."""

    side = forms.ChoiceField(label="Its edge")
    other = forms.ChoiceField(label="Meets")
    other_side = forms.ChoiceField(label="Along the other's")
    join = forms.ChoiceField(label="Joined by", choices=JOIN_CHOICES)
    span = LengthField(label="For so long, where both go on", size="panel", least=5, most=10_000, required=False)

    def __init__(self, *args: Any, kind: Kind, key: str, **kwargs: Any) -> None:
        """Offer the other panels, and the edges that there are."""
        super().__init__(*args, **kwargs)
        edges = dict.fromkeys(e for p in kind.parts if p.is_cut for e in p.edges)
        self.fields["side"].choices = [(e, edge_words(e)) for e in kind.part(key).edges]  # type: ignore[attr-defined]
        self.fields["other_side"].choices = [(e, edge_words(e)) for e in edges]  # type: ignore[attr-defined]
        self.fields["other"].choices = [c for c in parts_of(kind) if c[0] != key]  # type: ignore[attr-defined]


class ArmsForm(WorkForm):
    """A layer on the arms."""

    thickness = LengthField(label="More foam on the arms", size="small", least=2, most=100)


class ContrastForm(WorkForm):
    """Panels in a second cloth."""

    parts = forms.MultipleChoiceField(label="Panels in a second cloth", widget=forms.CheckboxSelectMultiple)

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer the panels of the new cover."""
        super().__init__(*args, **kwargs)
        self.fields["parts"].choices = [(p.key, p.name) for p in kind.panels if not p.contrast]  # type: ignore[attr-defined]


class StripeForm(WorkForm):
    """A centre stripe."""

    part = forms.ChoiceField(label="Down the middle of")
    width = LengthField(label="Stripe, finished width", least=40, most=1000)

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer the four-sided panels."""
        super().__init__(*args, **kwargs)
        self.fields["part"].choices = [(p.key, p.name) for p in kind.panels if p.form != "disc"]  # type: ignore[attr-defined]


class ButtonsForm(WorkForm):
    """Buttons drawn into a panel."""

    part = forms.ChoiceField(label="Buttons on")
    rows = forms.IntegerField(label="Rows", min_value=1, max_value=12, initial=3)
    columns = forms.IntegerField(label="Columns", min_value=1, max_value=12, initial=3)
    across = LengthField(label="Apart, across", least=20, most=600)
    down = LengthField(label="Apart, up and down", least=20, most=600)
    deep = LengthField(label="Drawn in by", size="small", most=100, zero=True)

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer the panels."""
        super().__init__(*args, **kwargs)
        self.fields["part"].choices = [(p.key, p.name) for p in kind.panels]  # type: ignore[attr-defined]


class ChannelsForm(WorkForm):
    """Channels stitched into a panel."""

    part = forms.ChoiceField(label="Channels on")
    apart = LengthField(label="Lines apart", least=20, most=600)
    deep = LengthField(label="Drawn in by", size="small", most=100, zero=True)
    way = forms.ChoiceField(label="They run", choices=[("upright", "up and down"), ("across", "across")])

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer the panels."""
        super().__init__(*args, **kwargs)
        self.fields["part"].choices = [(p.key, p.name) for p in kind.panels]  # type: ignore[attr-defined]


class OffForm(WorkForm):
    """What is not made again."""

    part = forms.ChoiceField(label="Not made again")

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:
        """Offer what it came in with."""
        super().__init__(*args, **kwargs)
        self.fields["part"].choices = [(p.key, p.name) for p in kind.old if p.is_on_new]  # type: ignore[attr-defined]


class TrimForm(WorkForm):
    """Another trim."""

    trim = forms.ChoiceField(label="Instead of the old one", choices=[*KINDS.items(), ("none", "no trim")])

    def __init__(self, *args: Any, kind: Kind, **kwargs: Any) -> None:  # noqa: ARG002 any kind takes any trim
        """Take any kind."""
        super().__init__(*args, **kwargs)


RESTYLES: dict[str, Any] = {
    "arms": ArmsForm,
    "contrast": ContrastForm,
    "stripe": StripeForm,
    "buttons": ButtonsForm,
    "channels": ChannelsForm,
    "trim": TrimForm,
    "off": OffForm,
}
