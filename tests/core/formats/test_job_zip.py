"""A job's ZIP: what goes in comes out, and nothing is unpacked that is larger or elsewhere than it says."""

from __future__ import annotations

import contextlib
import io
import json
import random
import zipfile

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zonatome.core.errors import BadInput
from zonatome.core.formats.job_zip import DOCUMENT, MOST_FILE, MOST_FILES, read_job_zip, write_job_zip

NAMES = st.from_regex(r"(photos|spoken|pieces|lays)/[a-z0-9]{1,12}\.(jpg|json|ogg)", fullmatch=True)
PLAIN = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**9), 10**9) | st.text(max_size=20),
    lambda x: st.lists(x, max_size=4),
    max_leaves=12,
)


def packed(entries: dict[str, bytes]) -> io.BytesIO:
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as made:
        for name, data in entries.items():
            made.writestr(name, data)
    content.seek(0)
    return content


GOOD = json.dumps({"format": "zonatome.job", "version": 1, "job": {}}).encode()


@given(
    st.dictionaries(
        st.text(st.characters(codec="ascii", categories=["Ll"]), min_size=1, max_size=8), PLAIN, max_size=5
    ),
    st.dictionaries(NAMES, st.binary(max_size=200), max_size=6),
)
def test_what_is_packed_comes_out_again(document, files):
    document = {k: v for k, v in document.items() if k not in ("format", "version")}
    told, found = read_job_zip(io.BytesIO(write_job_zip(document, files)))
    assert told == {"format": "zonatome.job", "version": 2, **document}
    assert found == files


@pytest.mark.parametrize(
    "name", ["../x.jpg", "/etc/passwd", "photos/../../x.jpg", "a/b/c.jpg", "photos/", "C:\\x.jpg", "photos/x\0.jpg", ""]
)
def test_a_name_that_leads_elsewhere_is_neither_written_nor_read(name):
    with pytest.raises(BadInput, match="a plain file name"):
        write_job_zip({}, {name: b"x"})
    if name and not name.endswith("/") and "\0" not in name:
        with pytest.raises(BadInput, match="a plain file name"):
            read_job_zip(packed({DOCUMENT: GOOD, name: b"x"}))


@pytest.mark.parametrize(
    ("entries", "says"),
    [
        pytest.param(
            {DOCUMENT: GOOD, "photos/1.jpg": b"\0" * (MOST_FILE + 1)},
            "at most",
            id="a file that unpacks beyond the bound",
        ),
        pytest.param(
            {DOCUMENT: GOOD, **{f"photos/{n}.jpg": b"" for n in range(MOST_FILES)}},
            "files",
            id="more files than a job has",
        ),
        pytest.param({"photos/1.jpg": b"x"}, DOCUMENT, id="no document"),
        pytest.param({DOCUMENT: b"[1, 2]"}, "a JSON object", id="another JSON"),
        pytest.param({DOCUMENT: b"{" * 100_000}, "a JSON object", id="no JSON"),
        pytest.param({DOCUMENT: b'{"a":' * 60_000 + b"1" + b"}" * 60_000}, "a JSON object", id="too deep"),
        pytest.param({DOCUMENT: b'{"format": "zonatome.lay", "version": 1}'}, "format", id="another format"),
        pytest.param({DOCUMENT: b'{"format": "zonatome.job", "version": 9}'}, "version 2", id="a later version"),
    ],
)
def test_what_is_no_job_is_refused_in_words(entries, says):
    with pytest.raises(BadInput, match=says):
        dict(read_job_zip(packed(entries))[1])


def test_a_zip_with_a_torn_stream_is_refused_wherever_it_is_torn():
    odd = random.Random(5)
    for way in (zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2):
        made = io.BytesIO()
        with zipfile.ZipFile(made, "w", way) as archive:
            archive.writestr(DOCUMENT, GOOD)
            archive.writestr("strip-record.pdf", bytes(odd.randrange(256) for _ in range(3000)))
        whole = made.getvalue()
        for _ in range(150):
            at = odd.randrange(len(whole))
            torn = whole[:at] + bytes([whole[at] ^ (1 << odd.randrange(8))]) + whole[at + 1 :]
            with contextlib.suppress(BadInput):  # in words, or read all the same
                dict(read_job_zip(io.BytesIO(torn))[1])


def test_a_file_that_lies_about_its_size_is_not_believed():
    content = packed({DOCUMENT: GOOD, "photos/1.jpg": b"\0" * 5000}).getvalue()
    for place in range(len(content) - 4):  # wherever the true size stands, a smaller one is written over it
        if content[place : place + 4] == (5000).to_bytes(4, "little"):
            content = content[:place] + (10).to_bytes(4, "little") + content[place + 4 :]
    with pytest.raises(BadInput, match="expected"):
        dict(read_job_zip(io.BytesIO(content))[1])
