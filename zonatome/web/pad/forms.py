"""Forms of the pad step."""

from __future__ import annotations

from typing import Any

from django import forms

from zonatome.web.base.length_forms import LengthField, WorkForm


class PadForm(WorkForm):
    """Foam, wadding, how far foam stands out; and the board where it is not known yet."""

    foam = LengthField(label="Foam", size="small", most=300, zero=True)
    wadding = LengthField(label="Wadding", size="small", most=80, zero=True)
    oversize = LengthField(
        label="Foam beyond it", size="small", most=30, zero=True, help_text="Each side; 0 to 10 mm keeps the edge soft."
    )
    webbing = forms.BooleanField(label="Webbing and hessian under it", required=False)


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
