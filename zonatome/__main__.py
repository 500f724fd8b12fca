"""The command line: the same computation as the pages, on open files.

    python -m zonatome lay REQUEST.json --seconds 10 --seed 1
    python -m zonatome trace PHOTO.jpg --mat 1200 800
    python -m zonatome kind --list
    python -m zonatome kind ottoman --variant lid
    python -m zonatome kind ottoman --request --width 1400 --direction one_way

Exit status 0: the answer is on standard output. 2: bad input. 3: a correct request without a whole answer.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats.lay_json import read_request, write_lay, write_request
from zonatome.core.formats.reading import MOST_BYTES, read_json
from zonatome.core.lay.lay import search_lay
from zonatome.core.lay.prepare import prepare
from zonatome.core.lay.request import Lay
from zonatome.core.survey.furniture import with_variants
from zonatome.core.survey.kinds import kind_named

LONGEST_SEARCH = 3600.0  # seconds
FILE_OF = {"lay": "request", "trace": "photo", "kind": "key"}  # what a refusal names


def main(argv: list[str] | None = None) -> int:
    """Run one command and return its exit status."""
    parser = argparse.ArgumentParser(
        prog="python -m zonatome", description="Lays, tracings and kinds of furniture as open files."
    )
    commands = parser.add_subparsers(dest="command", required=True)
    lay = commands.add_parser("lay", help="lay the pieces of a request on its cloth")
    lay.add_argument("request", type=Path)
    lay.add_argument("--seconds", type=float, default=10.0)
    lay.add_argument("--seed", type=int, default=1)
    trace = commands.add_parser("trace", help="trace the old cover on a photo of the mat")
    trace.add_argument("photo", type=Path)
    trace.add_argument(
        "--mat",
        type=float,
        nargs=2,
        required=True,
        metavar=("W", "H"),
        help="mm between marker centres, across and down",
    )
    trace.add_argument("--marker", type=float, default=60.0, help="mm: the side of a marker's black square")
    trace.add_argument("--name", default="")
    kind = commands.add_parser("kind", help="write a kind of furniture as data, from its usual measures")
    kind.add_argument("key", nargs="?", default="", help="the kind's key; --list names them")
    kind.add_argument(
        "--list", action="store_true", dest="listed", help="the kinds that there are, with their variants"
    )
    kind.add_argument(
        "--variant", action="append", default=[], help="one of the kind's variants; may be given more than once"
    )
    kind.add_argument(
        "--request",
        action="store_true",
        dest="as_request",
        help="the lay request of one such piece of furniture instead",
    )
    kind.add_argument("--width", type=float, help="mm: the roll's width, for --request")
    kind.add_argument("--direction", default="one_way", help="one_way, two_way or any, for --request")
    asked = parser.parse_args(argv)
    path = Path(str(getattr(asked, FILE_OF[asked.command]) or "kind"))
    try:
        if asked.command == "lay":
            return _lay(path, seconds=asked.seconds, seed=asked.seed)
        if asked.command == "kind":
            return _kind(asked)
        return _trace(path, mat=(asked.mat[0], asked.mat[1], asked.marker), name=asked.name)
    except BadInput as refusal:
        print(f"{path}: {refusal}", file=sys.stderr)
        return 2
    except NoAnswer as refusal:
        print(f"{path}: {refusal}", file=sys.stderr)
        return 3


def _kind(asked: argparse.Namespace) -> int:
    from zonatome.core.formats.kind_json import request_of_kind, write_kind, write_kinds

    if asked.listed:
        print(json.dumps(write_kinds(), indent=1, ensure_ascii=False))
        return 0
    if not asked.key:
        raise BadInput("kind", None, "a kind's key, or --list")
    variants = tuple(v.key for v in kind_named(asked.key).variants if v.key in asked.variant)
    kind = with_variants(kind_named(asked.key), asked.variant)
    if not asked.as_request:
        print(json.dumps(write_kind(kind, variants), indent=1, ensure_ascii=False))
        return 0
    if asked.width is None:
        raise BadInput("--width", None, "the roll's width in mm, with --request")
    print(json.dumps(write_request(request_of_kind(kind, width=asked.width, direction=asked.direction)), indent=1))
    return 0


def _trace(path: Path, *, mat: tuple[float, float, float], name: str) -> int:
    from zonatome.core.trace.mat import Mat
    from zonatome.core.trace.photo import MOST_BYTES as MOST_PHOTO
    from zonatome.core.trace.photo import read_photo, trace_photo

    told = Mat(*mat)
    try:
        if path.stat().st_size > MOST_PHOTO:
            raise BadInput("photo", f"{path.stat().st_size} bytes", f"at most {MOST_PHOTO} bytes")
        content = path.read_bytes()
    except OSError as err:
        raise BadInput("photo", str(err), "a file that can be read") from err
    traced = trace_photo(read_photo(content), told)
    piece = {
        "format": "zonatome.piece",
        "version": 1,
        "name": (name or path.stem)[:80],
        "outline": [list(p) for p in traced.outline.points],
        "error": round(traced.error, 3),
    }
    print(json.dumps(piece))
    return 0


def _lay(path: Path, *, seconds: float, seed: int) -> int:
    if not 0 < seconds <= LONGEST_SEARCH:
        raise BadInput("--seconds", seconds, f"above 0 and at most {LONGEST_SEARCH:g}")
    if not 0 <= seed < 2**63:
        raise BadInput("--seed", seed, "a whole number from 0")
    request = read_request(read_json(_content(path)))
    prepare()
    lay = search_lay(request, seconds=seconds, seed=seed, report=_progress)
    print(json.dumps(write_lay(lay)))
    if lay.is_whole:
        return 0
    names = [f"{count} of {piece}" for piece, count in lay.unplaced] + [
        f"{missing:.0f} mm of {strip}" for strip, missing in lay.short
    ]
    why = (
        "no room on the panels"
        if request.on_panels
        else f"wider than the usable {request.roll.usable:g} mm of cloth lets it lie"
    )
    print(f"{path}: {why}, not laid: {', '.join(names)}", file=sys.stderr)
    return 3


def _content(path: Path) -> str:
    try:
        if path.stat().st_size > MOST_BYTES:
            raise BadInput("file", f"{path.stat().st_size} bytes", f"at most {MOST_BYTES} bytes")
        return path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError) as err:
        raise BadInput("file", str(err), "a readable UTF-8 file") from err


def _progress(lay: Lay) -> None:
    if sys.stderr.isatty():
        print(f"\r{lay.length:9.1f} mm, {lay.used:.1%} used, {lay.seconds:.1f} s ", end="", file=sys.stderr)


if __name__ == "__main__":
    sys.exit(main())
