"""In which order the seams of a sewn cover are closed, so that nothing is closed before what must still lie flat."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace

from zonatome.core.joins import JOINS
from zonatome.core.survey.kind import Kind, Meeting, Part, edge_words

SEAM_MINUTES = (2.0, 3.0)  # each seam, and a metre of it
ZIP_MINUTES = 15.0
TOP_STITCH = 6.0  # mm from the seam: a foot's width
TOP_STITCHED = (
    f"sew it, open the seam, then top-stitch it a foot's width, {TOP_STITCH:.0f} mm, beside it, with heavier thread, "
    "while the panels lie flat"
)
INNER = "an inner seam, while both panels lie flat"
CLOSES_RING = "it closes a ring: notch on notch, then turn it to the line that goes round"
STRIP = 5.0  # a panel so many times as long as it is wide is a strip that goes round another
HEAVY = 6  # layers at a welt's join from which a heavy machine is wanted
LONGEST_STITCH = 4.0  # mm, for the thickest cloths


@dataclass(frozen=True)
class Seam:
    """One seam: where two panels meet, how long, mm, whether it is top-stitched, whether it has welt in it."""

    meeting: Meeting
    length: float
    is_top_stitched: bool = False
    has_welt: bool = False

    @property
    def panels(self) -> tuple[str, str]:
        """The two panels; the same twice where a panel closes on itself."""
        return self.meeting.one, self.meeting.other

    @property
    def layers(self) -> int:
        """How many layers of cloth lie in it: two, and a welt's strip twice over."""
        return 4 if self.has_welt else 2


@dataclass(frozen=True)
class Run:
    """Seams that are sewn in one line without taking the foot up; what it is, what to know, minutes."""

    seams: tuple[Seam, ...]
    what: str
    words: str
    is_flat: bool

    @property
    def length(self) -> float:
        """How long the line is, mm."""
        return sum(seam.length for seam in self.seams)

    @property
    def minutes(self) -> float:
        """Hands-on minutes: two each and three a metre, a zip fifteen. Source: the trade's table."""
        zips = sum(seam.meeting.join == "zip" for seam in self.seams)
        each, metre = SEAM_MINUTES
        rest = len(self.seams) - zips
        return zips * ZIP_MINUTES + rest * each + metre * sum(s.length for s in self.seams) / 1000

    @property
    def layers_at_joins(self) -> int:
        """How many layers lie where two of its seams meet: those of both."""
        if len(self.seams) < 2:
            return self.seams[0].layers
        return max(a.layers + b.layers for a, b in zip(self.seams, self.seams[1:], strict=False))

    @property
    def is_heavy(self) -> bool:
        """Whether it wants a heavy machine where its seams meet."""
        return self.layers_at_joins >= HEAVY


def seams_of(
    kind: Kind, group: Sequence[str], lengths: Callable[[str, str], float], *,
    top_stitched: Iterable[str] = (), welted: Iterable[str] = (),
) -> tuple[Seam, ...]:  # fmt: skip
    """Return the seams among the panels that are sewn into one cover.

    `lengths` gives the length of an edge of a panel, mm; `top_stitched` and `welted` name seams by `seam_key`.
    """
    stitched, welt = set(top_stitched), set(welted)
    return tuple(
        Seam(m, kind.span_of(m, lengths), seam_key(m) in stitched, seam_key(m) in welt)
        for m in kind.meets
        if m.is_seam and m.one in group and m.other in group
    )


def seam_key(meeting: Meeting) -> str:
    """Return the name of a seam: its two ends."""
    return "-".join(f"{key}.{edge}" for key, edge in sorted(meeting.ends))


def sewing_order(kind: Kind, seams: Sequence[Seam]) -> tuple[Run, ...]:
    """Return the seams in the order of sewing, as runs.

    Top-stitched ones first, while all lies flat; then zips, before what they lie in is closed; flies; inner seams from
    the shortest; then panel by panel the lines round them, the longest last. Source: trade rules of sewn covers.
    """
    top = [s for s in seams if s.is_top_stitched]
    zips = [s for s in seams if s.meeting.join == "zip" and s not in top]
    flies = [s for s in seams if s.meeting.join == "fly" and s not in top]
    left = [s for s in seams if s not in top and s not in zips and s not in flies]
    lines: list[Run] = []
    while True:
        line = _longest_line(kind, left)
        if len(line) < 2:
            break
        lines.append(Run(tuple(line), _round(kind, line), "one line, without taking the foot up at the corners; hold "
                         "each corner with a pin or staple before it is sewn", is_flat=False))  # fmt: skip
        left = [s for s in left if s not in line]
    runs = [_single(kind, s, TOP_STITCHED) for s in top]
    runs += [_single(kind, s, "before the boxing is closed round it") for s in zips]
    runs += [_single(kind, s, "on the line where it goes out of sight") for s in flies]
    runs += [_single(kind, s, INNER) for s in sorted(left, key=lambda s: s.length)]
    return _with_flatness([*runs, *reversed(lines)])


def _single(kind: Kind, seam: Seam, words: str) -> Run:
    return Run((seam,), _words(kind, seam), words, is_flat=True)


def _words(kind: Kind, seam: Seam) -> str:
    one, other = (f"{kind.part(key).name}, {edge_words(edge)}" for key, edge in seam.meeting.ends)
    join = JOINS[seam.meeting.join].name
    return f"{one} to {other[0].lower()}{other[1:]}" + (f" ({join})" if seam.meeting.join != "sewn" else "")


def _round(kind: Kind, line: Sequence[Seam]) -> str:
    shared = set(line[0].panels).intersection(*(s.panels for s in line[1:]))
    name = kind.part(min(shared)).name if shared else kind.part(line[0].meeting.one).name
    return f"Round the {name[0].lower()}{name[1:]}, {len(line)} seams in one line"


def _longest_line(kind: Kind, seams: Sequence[Seam]) -> list[Seam]:
    """The longest line of seams that follow each other along one panel's edge."""
    best: list[Seam] = []
    faces = [k for k in dict.fromkeys(k for s in seams for k in s.panels) if not _is_strip(kind.part(k))]
    for key in faces:
        for line in _lines_along(kind, key, seams):
            if sum(s.length for s in line) > sum(s.length for s in best) and len(line) > 1:
                best = line
    return best


def _is_strip(part: Part) -> bool:
    short, long_ = sorted((part.width, part.height))
    return long_ >= STRIP * short


def _lines_along(kind: Kind, key: str, seams: Sequence[Seam]) -> list[list[Seam]]:
    """The seams of a panel in the order of the run, parted where an edge is held in another way."""
    by_meeting = {s.meeting: s for s in seams if s.meeting.one != s.meeting.other}
    found: list[list[Seam]] = [[]]
    edges = kind.part(key).edges
    for edge in edges:
        here = [by_meeting[m] for m in kind.meetings_at(key, edge) if m in by_meeting]
        if not here:
            found.append([])
            continue
        found[-1] += [s for s in here if s not in found[-1]]
    whole = [line for line in found if line]
    if len(found) > 1 and found[0] and found[-1] and found[0] is not found[-1]:  # over the start of the run
        joined = [*found[-1], *(s for s in found[0] if s not in found[-1])]
        whole = [joined, *(line for line in whole if line is not found[0] and line is not found[-1])]
    return whole


def _with_flatness(runs: list[Run]) -> tuple[Run, ...]:
    """Which runs are sewn while their panels still lie flat: none of them closes a ring, and none lies in one yet."""
    group: dict[str, str] = {}

    def root(key: str) -> str:
        while group.setdefault(key, key) != key:
            key = group[key]
        return key

    ringed: set[str] = set()
    found = []
    for run in runs:
        for seam in run.seams:
            a, b = (root(k) for k in seam.panels)
            if a == b or b in ringed:
                ringed.add(a)
            group[b] = a
        is_flat = root(run.seams[0].panels[0]) not in ringed
        words = CLOSES_RING if not is_flat and run.words == INNER else run.words
        found.append(replace(run, is_flat=is_flat, words=words))
    return tuple(found)


@dataclass(frozen=True)
class Sewing:
    """What a cover is sewn with, by its cloth's thickness: needle, stitch, thread."""

    needle: str
    stitch: float
    thread: str


def sewn_with(thickness: float) -> Sewing:
    """Return needle, stitch length in mm and thread for a cloth so many mm thick: a start, to be tried on scrap.

    >>> sewn_with(1.2).needle
    '110/18'
    """
    for up_to, needle, stitch, thread in (
        (0.6, "90/14", 2.5, "polyester, no. 60"),
        (1.0, "100/16", 3.0, "strong polyester, no. 40"),
        (1.6, "110/18", 3.5, "strong polyester, no. 30"),
    ):
        if thickness <= up_to:
            return Sewing(needle, stitch, thread)
    return Sewing("120/19", LONGEST_STITCH, "strong polyester, no. 20")
