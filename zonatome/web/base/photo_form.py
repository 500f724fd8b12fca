"""A form for a photo."""

from __future__ import annotations

from typing import Any

from django import forms


class PhotoForm(forms.Form):
    """A photo from a file or the camera."""

    photo = forms.FileField(
        label="Photo", widget=forms.FileInput(attrs={"accept": "image/jpeg,image/png", "capture": "environment"})
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        """Keep the label free of a colon."""
        kwargs["label_suffix"] = ""
        super().__init__(*args, **kwargs)
