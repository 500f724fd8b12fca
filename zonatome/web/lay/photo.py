"""Where the photo of a cloth is found."""

from __future__ import annotations

import base64

from django.urls import reverse

from zonatome.web.lay.models import Cloth


def tile_inline(cloth: Cloth) -> str:
    """Return the photo of one repeat of a cloth as an address that holds it, for a page that may ask for nothing else;
    nothing where there is none.
    """
    if not cloth.tile_photo:
        return ""
    try:
        with cloth.tile_photo.open("rb") as file:
            return "data:image/jpeg;base64," + base64.b64encode(file.read()).decode()
    except FileNotFoundError:
        return ""


def tile_address(cloth: Cloth) -> str:
    """Return the address of the photo of one repeat of a cloth; nothing where it is drawn with the built-in motif."""
    return reverse("store:tile", args=[cloth.pk]) if cloth.tile_photo else ""
