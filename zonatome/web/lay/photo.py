"""Where the photo of a cloth is found."""

from __future__ import annotations

from django.urls import reverse

from zonatome.web.lay.models import Cloth


def tile_address(cloth: Cloth) -> str:
    """Return the address of the photo of one repeat of a cloth; nothing where it is drawn with the built-in motif."""
    return reverse("store:tile", args=[cloth.pk]) if cloth.tile_photo else ""
