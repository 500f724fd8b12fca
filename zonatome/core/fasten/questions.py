"""Questions at the steps before the staples, each made from a piece of furniture or from measures, its answer worked
out by the rules that the steps themselves use. The same number gives the same question. Lengths in mm.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from zonatome.core.errors import BadInput
from zonatome.core.fasten.relief import STOP, CutKey, Post, ReliefCut, relief_cut
from zonatome.core.lay.pattern.direction import turns_allowed
from zonatome.core.outline import Outline
from zonatome.core.strip.order import can_come_off, lying_over, thing_name, things, usual_order
from zonatome.core.survey.kind import Kind, Part
from zonatome.core.survey.kinds import KINDS
from zonatome.core.trace.by_tape import Board, block_shape, rectangle_shape
from zonatome.core.trace.derived import box_cushion

Topic = Literal["strip", "pile", "relief", "pad"]
TOPICS: dict[str, str] = {
    "strip": "What comes off next?",
    "pile": "Which way does it run?",
    "relief": "Where does the cut stop?",
    "pad": "What grows with the pad?",
}
CHOICES = 4
LEAST_APART = 7.0  # mm between two answers: an eighth of an inch and more
MOST_NUMBER = 100_000
STAPLED = dict.fromkeys(("top", "right", "bottom", "left"), "stapled_under")
SEWN = dict.fromkeys(("top", "right", "bottom", "left"), "sewn")


@dataclass(frozen=True)
class Growing:
    """A pad before and after, as high as it is, on its board: what a drawing shows."""

    wide: float
    board: float
    before: float
    after: float


@dataclass(frozen=True)
class Question:
    """A question: what is asked, the answers to choose from, which is right, counted from 0, and how it is worked out.

    What a drawing shows of it: a kind with what is off and the panel that is asked about; a cut toward a post; a pad.
    """

    topic: Topic
    asks: str
    choices: tuple[str, ...]
    right: int
    worked: tuple[str, ...]
    kind: Kind | None = None
    off: tuple[str, ...] = ()
    panel: str = ""
    cut: ReliefCut | None = None
    post: Post | None = None
    piece: Outline | None = None
    pad: Growing | None = None


def question(topic: str, number: int) -> Question:
    """Return a question of a topic by its number, from 0. Raises BadInput for a topic or a number that there is not."""
    if topic not in MADE:
        raise BadInput("topic", topic, "one of " + ", ".join(MADE))
    if not 0 <= number < MOST_NUMBER:
        raise BadInput("number", number, f"0 to {MOST_NUMBER - 1}")
    return MADE[topic](random.Random(f"{topic} {number}"))


def _mixed(told: random.Random, right: str, wrong: Sequence[str]) -> tuple[tuple[str, ...], int]:
    """The answers in any order, and where the right one is."""
    choices = [right, *wrong[: CHOICES - 1]]
    told.shuffle(choices)
    return tuple(choices), choices.index(right)


# ------------------------------------------------------------------------------------------ what comes off next


def _strip(told: random.Random) -> Question:
    """Some of a piece of furniture is off: which thing has nothing over it any more?"""
    while True:
        kind = told.choice(list(KINDS.values()))
        order = things(kind, usual_order(kind))
        done = told.randrange(0, max(1, len(order) - 2))
        off = tuple(key for group in order[:done] for key in group)
        free = set(can_come_off(kind, off))
        left = order[done:]
        open_ = [group for group in left if set(group) & free]
        held = [group for group in left if not set(group) & free]
        if open_ and len(held) >= 2:
            break
    right = told.choice(open_)
    wrong = told.sample(held, min(len(held), CHOICES - 1))
    choices, place = _mixed(told, thing_name(kind, right), [thing_name(kind, group) for group in wrong])
    gone = ", ".join(thing_name(kind, group).lower() for group in order[:done]) or "nothing"
    worked = [f"{thing_name(kind, right)}: nothing lies over it any more."]
    for group in wrong:
        over = lying_over(kind, group[0], off).under
        names = ", ".join(kind.part(key).name.lower() for key in over)
        worked.append(f"{thing_name(kind, group)}: still under {names}.")
    asks = f"{kind.name}; off so far: {gone}. Which of these can come off next?"
    return Question("strip", asks, choices, place, tuple(worked), kind=kind, off=off)


# ------------------------------------------------------------------------------------------ which way it runs


def runs_down(part: Part) -> tuple[str, str]:
    """Return from which of its sides to which the pile of a panel runs, in words, as it stands on the furniture.

    Source: trade rule, pile and pattern run down: from top to bottom on what stands, from back to front on what lies.
    """
    return ("its top", "its bottom") if part.stands else ("the back", "the front")


NAPS = {"one_way": "velvet", "two_way": "a plain weave", "any": "vinyl"}
WAYS: dict[tuple[float, ...], str] = {
    (0.0,): "only with its top toward the squared end",
    (90.0,): "only sideways, all of the furniture the same",
    (0.0, 180.0): "with its top toward either end, not sideways",
    (90.0, 270.0): "sideways, with its top to either edge",
    (0.0, 90.0, 180.0, 270.0): "in any of the four quarters",
}


def _pile(told: random.Random) -> Question:
    return _smoothed(told) if told.random() < 0.5 else _turned(told)


def _smoothed(told: random.Random) -> Question:
    """A panel on the furniture: which way is velvet stroked smooth?"""
    kind = told.choice(list(KINDS.values()))
    part = told.choice(kind.panels)
    begin, end = runs_down(part)
    right = f"from {begin} to {end}"
    wrong = [f"from {end} to {begin}", "from left to right", "from right to left"]
    choices, place = _mixed(told, right, wrong)
    worked = (
        f"{part.name} {'stands' if part.stands else 'lies'}: pile runs {right}, where a hand strokes it smooth.",
        "Every panel the same, welt and boxing too: one the other way looks like another colour.",
        f"On the roll its {'top' if part.stands else 'back edge'} lies toward the squared end, and nothing may turn.",
    )
    asks = f"{kind.name} in velvet, the {part.name.lower()}: which way must the pile run?"
    return Question("pile", asks, choices, place, worked, kind=kind, panel=part.key)


def _turned(told: random.Random) -> Question:
    """A piece on the roll: how may it be turned?"""
    nap = told.choice(list(NAPS))
    is_striped = nap == "two_way" and told.random() < 0.5
    railroaded = told.random() < 0.4
    turns = turns_allowed(nap, railroaded=railroaded, is_striped=is_striped)
    right = WAYS[tuple(turns or ())]
    wrong = [words for words in WAYS.values() if words != right]
    told.shuffle(wrong)
    choices, place = _mixed(told, right, wrong)
    cloth = "a striped weave" if is_striped else NAPS[nap]
    how = ", railroaded" if railroaded else ""
    worked = [
        {
            "one_way": "Pile lies one way: one turn only.",
            "two_way": "A weave looks the same turned half round: either way up.",
            "any": "Vinyl has no way: it lies as it saves.",
        }[nap]
    ]
    if is_striped:
        worked.append("A stripe is laid sideways only for the whole piece of furniture: nothing turns a quarter alone.")
    if railroaded and nap != "any":
        worked.append("Railroaded, all of it lies sideways: a quarter round.")
    worked.append("Turns from its top toward the squared end: " + ", ".join(f"{t:.0f}°" for t in turns or ()) + ".")
    return Question("pile", f"A panel is laid on {cloth}{how}. How may it lie?", choices, place, tuple(worked))


# ------------------------------------------------------------------------------------------ where the cut stops


def _relief(told: random.Random) -> Question:
    """A post so far in from the cut edge: how long is the cut toward it?"""
    sort: CutKey = told.choice(("straight", "y"))
    wide, stop = float(told.randrange(25, 75, 5)), told.choice(STOP)
    inside = float(told.randrange(40, 120, 5))
    shape = rectangle_shape("Seat", 420, 320, STAPLED)
    low = shape.cut_line.bounds[1]
    post = Post((210.0, low + max(inside + 0.0, wide / 2 + stop + 20.0)), wide)
    away = post.at[1] - low
    cut = relief_cut(shape, post, sort=sort, stop=stop)
    others = (away, away - stop, away - wide / 2, away - wide / 2 - stop, away - wide - stop, away + stop)
    wrong = _apart(cut.stem, others, told)
    choices, place = _mixed(told, f"{cut.stem:.0f} mm", [f"{length:.0f} mm" for length in wrong])
    name = "straight cut" if sort == "straight" else "stem of a Y"
    if sort == "straight":
        line = (
            f"Straight, it ends {stop:.0f} mm short of the face: {away:.0f} mm less {stop:.0f} mm is {cut.stem:.0f} mm."
        )
    else:
        line = (
            f"A Y opens half a post's width before it stops: {away:.0f} mm less {wide / 2:g} mm less {stop:.0f} mm is "
            f"{cut.stem:.0f} mm; its arms are {cut.arm:.0f} mm and end {stop:.0f} mm short of the post's corners."
        )
    worked = (f"The face lies {away:.0f} mm from the cut edge.", line, "In small snips, trying between them: cloth "
              "that is cut too far can't be mended.")  # fmt: skip
    asks = (
        f"A post {wide:.0f} mm wide, its face {away:.0f} mm from the cut edge, the cut to stop {stop:.0f} mm short. "
        f"How long is the {name}?"
    )
    return Question("relief", asks, choices, place, worked, cut=cut, post=post, piece=shape.cut_line)


def _apart(right: float, others: Sequence[float], told: random.Random) -> list[float]:
    """Wrong lengths that can be told from the right one and from each other."""
    found: list[float] = []
    for length in told.sample(list(others), len(others)):
        if length >= 5 and all(abs(length - one) >= LEAST_APART for one in (right, *found)):
            found.append(length)
    return found


# ------------------------------------------------------------------------------------------ what grows with the pad


def _pad(told: random.Random) -> Question:
    return _wrapped(told) if told.random() < 0.6 else _boxed(told)


def _wrapped(told: random.Random) -> Question:
    """A cover that wraps its pad: by how much wider is it cut?"""
    board = Board(float(told.randrange(340, 520, 10)), float(told.randrange(330, 500, 10)), 18.0)
    before, wrap = float(told.randrange(20, 60, 5)), 50.0
    after = before + told.choice((10.0, 15.0, 20.0, 25.0, 30.0))
    wide = [block_shape("Seat", board, pad=pad, wrap=wrap).cut_line.width for pad in (before, after)]
    more, thicker = wide[1] - wide[0], after - before
    wrong = _apart(more, (0.0, thicker, 4 * thicker, more + wrap, 3 * thicker), told)
    choices, place = _mixed(told, f"{more:.0f} mm", [f"{length:.0f} mm" for length in (*wrong, 0.0)])
    around = [f"{pad:.0f} mm + {board.thickness:.0f} mm + {wrap:.0f} mm" for pad in (before, after)]
    worked = (
        f"The cut is the board's width and twice what goes round it: before {board.width:.0f} mm + 2 x ({around[0]}) = "
        f"{wide[0]:.0f} mm, after {board.width:.0f} mm + 2 x ({around[1]}) = {wide[1]:.0f} mm.",
        f"The pad is {thicker:.0f} mm higher at both sides: {more:.0f} mm in all, and as much from front to back.",
        "Cut to the old cover it comes out short.",
    )
    asks = (
        f"A drop-in seat on a board {board.width:.0f} mm wide had a pad {before:.0f} mm high; the new one is "
        f"{after:.0f} mm. By how much wider is its cover cut than the old one?"
    )
    return Question("pad", asks, choices, place, worked, pad=Growing(board.width, board.thickness, before, after))


BOXED = {
    (False, True): "boxing and zip strip, in their height; both faces stay",
    (True, False): "both faces; boxing and zip strip stay",
    (True, True): "all of them",
    (False, False): "none of them",
}


def _boxed(told: random.Random) -> Question:
    """A box cushion with thicker foam: which of its pieces are other ones?"""
    wide, deep = float(told.randrange(480, 620, 10)), float(told.randrange(460, 600, 10))
    before = float(told.randrange(60, 110, 10))
    after = before + told.choice((20.0, 30.0, 40.0))
    face = rectangle_shape("Cushion", wide, deep, SEWN)
    made = [box_cushion(face, high).pieces for high in (before, after)]
    pairs = list(zip(*([one.shape for one in pieces] for pieces in made), strict=True))
    by = {a.name: (b.cut_line.height - a.cut_line.height, b.cut_line.width - a.cut_line.width) for a, b in pairs}
    is_face = {a.name: abs(a.outline.height - deep) < 1 for a, _ in pairs}
    grows = tuple(any(max(by[name]) > 0.5 for name in by if is_face[name] is faces) for faces in (True, False))
    right = BOXED[grows]  # type: ignore[index]  # two of them
    choices, place = _mixed(told, right, [words for words in BOXED.values() if words != right])
    worked = [f"{name}: {_grows(*more)}." for name, more in by.items()]
    worked.append("Its faces lie on the foam's own width and depth, which stay; the boxing is as high as the foam.")
    asks = (
        f"A box cushion {wide:.0f} x {deep:.0f} mm gets foam of {after:.0f} mm where it had {before:.0f} mm. "
        "Which of its pieces grow?"
    )
    return Question("pad", asks, choices, place, tuple(worked), pad=Growing(wide, 0.0, before, after))


def _grows(high: float, long: float) -> str:
    """By how much a piece grows, in words."""
    told = [f"{more:.0f} mm {way}" for more, way in ((high, "higher"), (long, "longer")) if more > 0.5]
    return " and ".join(told) or "as it was"


MADE: dict[str, Callable[[random.Random], Question]] = {
    "strip": _strip,
    "pile": _pile,
    "relief": _relief,
    "pad": _pad,
}
