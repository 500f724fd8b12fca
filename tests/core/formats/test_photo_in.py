"""Photos that were sent: made anew whatever they bring along, large ones in a process with limits."""

from __future__ import annotations

import io
from functools import cache

import pytest
from PIL import Image

from zonatome.core.errors import BadInput
from zonatome.core.intake import apart
from zonatome.core.intake.photo_in import LONG_SIDE, made_anew


@cache
def photo(size: tuple[int, int], kind: str = "JPEG", *, mode: str = "RGB", turned: int = 0, notes: str = "") -> bytes:
    exif = Image.Exif()
    if turned:
        exif[0x0112] = turned
    if notes:
        exif[0x010F] = notes
    made = io.BytesIO()
    Image.new(mode, size).save(made, kind, **({"exif": exif} if kind == "JPEG" and (turned or notes) else {}))
    return made.getvalue()


@pytest.mark.parametrize(
    ("taken", "size"),
    [
        pytest.param(lambda: photo((800, 600)), (800, 600), id="small"),
        pytest.param(
            lambda: photo((800, 600), turned=6, notes="Maker of cameras"),
            (600, 800),
            id="lying on its side, with notes of the camera",
        ),
        pytest.param(lambda: photo((7200, 5400)), (1600, 1200), id="39 million pixels"),
        pytest.param(lambda: photo((7200, 5400), turned=8), (1200, 1600), id="39 million pixels on its side"),
        pytest.param(
            lambda: photo((6300, 6300), "PNG", mode="RGBA"), (1600, 1600), id="a PNG that needs 160 MB unpacked"
        ),
        pytest.param(lambda: photo((4000, 3000), "PNG", mode="P"), (1600, 1200), id="with a palette"),
        pytest.param(lambda: photo((3000, 2000), "PNG", mode="I;16"), (1600, 1067), id="of sixteen bits"),
    ],
)
def test_a_photo_is_made_anew_upright_and_bare(taken, size):
    made = Image.open(io.BytesIO(made_anew(taken())))
    assert (made.format, made.size, made.mode) == ("JPEG", size, "RGB")
    assert not made.getexif()


def test_one_of_ours_comes_back_byte_by_byte_and_one_with_notes_does_not():
    ours, noted = photo((LONG_SIDE, 900)), photo((LONG_SIDE, 900), notes="Maker of cameras")
    assert made_anew(ours, as_it_is=True) == ours
    assert not Image.open(io.BytesIO(made_anew(noted, as_it_is=True))).getexif()


@pytest.mark.parametrize(
    ("taken", "says"),
    [
        pytest.param(lambda: b"", "no photo", id="nothing"),
        pytest.param(lambda: b"GIF89a" + bytes(90), "no photo", id="another kind"),
        pytest.param(lambda: photo((900, 900))[:2000], "no photo", id="torn"),
        pytest.param(lambda: photo((5000, 5000), "PNG")[:9000], "no photo", id="torn and large"),
        pytest.param(lambda: photo((9000, 9000), "PNG", mode="L"), "at most 40 million pixels", id="81 million pixels"),
        pytest.param(lambda: b"\0\0\0\x18ftypheic" + bytes(99), "this one is HEIC", id="as phones make them"),
    ],
)
def test_what_is_no_photo_is_refused_in_words(taken, says):
    content = taken()
    with pytest.raises(BadInput) as refused:
        made_anew(content, name="chair.jpg")
    assert says in refused.value.told
    assert refused.value.key == "photo"


def test_a_photo_that_takes_more_memory_than_there_is_for_it_is_refused_and_the_next_one_read(monkeypatch):
    large = photo((6300, 6300), "PNG", mode="RGBA")
    with monkeypatch.context() as patched:
        tight = (
            "from zonatome.core.intake import apart; before = apart.WORKS['photo'].function; "
            "apart.WORKS['photo'] = apart.Work(before, 'photo', memory=2**26); apart.main()"
        )
        patched.setattr(apart, "READER", (*apart.READER[:1], "-c", tight))
        with pytest.raises(BadInput, match="a photo too large to read"):
            made_anew(large)
    assert Image.open(io.BytesIO(made_anew(large))).size == (1600, 1600)
