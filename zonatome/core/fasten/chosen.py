"""What was chosen and done while a panel is put on: its fold, rows, posts, closings, ticks, what was found."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import get_args

from zonatome.core.errors import BadInput
from zonatome.core.fasten.closings import CLOSINGS
from zonatome.core.fasten.folds import FoldKey
from zonatome.core.fasten.pleats import Pleats, pleats
from zonatome.core.fasten.relief import STOP, CutKey, Post
from zonatome.core.fasten.stages import LOOKS, SQUARE

MOST_POSTS = 12
MOST_FOUND = 40
MOST_PLACES = 2000  # of a plan of staples
STAGES = ("sew", "facing", "square", "staples", "corners", "cuts", "closings", "surplus", "look")


@dataclass(frozen=True)
class PostCut:
    """A post that a panel goes round, and the cut toward it."""

    post: Post
    sort: CutKey = "straight"
    stop: float = STOP[0]

    def __post_init__(self) -> None:
        """Refuse a cut that there is not."""
        if self.sort not in get_args(CutKey):
            raise BadInput("sort", self.sort, "straight or y")


@dataclass(frozen=True)
class Found:
    """What was found when a panel was looked over, on which piece of the set."""

    look: str
    piece: int = 1
    words: str = ""

    def __post_init__(self) -> None:
        """Refuse what is not in the list."""
        if self.look not in LOOKS:
            raise BadInput("look", self.look, "one of " + ", ".join(LOOKS))


@dataclass(frozen=True)
class Chosen:
    """What stands of one panel. Lengths in mm; `wrap` None: as the shape has it.

    `outer` and `inner` are the lengths of pleats where somebody measured them. `closings` names another way to close an
    edge than its join says. `sewn` counts the runs of a sewn cover that are done; `top_stitched` and `welted` name
    seams. `done` are the stages that somebody has ticked. `own_order` is the order of its staples that was kept from a
    rehearsal, by their places in the plan cross first, from 0, and `own_why` why each comes where it
    does; empty: none.
    """

    rows: int = 1
    fold: str = ""
    radius: float = 0.0
    wrap: float | None = None
    outer: float | None = None
    inner: float | None = None
    deep: float = 10.0
    posts: tuple[PostCut, ...] = ()
    closings: Mapping[str, str] = field(default_factory=dict)
    ticks: tuple[str, ...] = ()
    done: tuple[str, ...] = ()
    found: tuple[Found, ...] = ()
    top_stitched: tuple[str, ...] = ()
    welted: tuple[str, ...] = ()
    sewn: int = 0
    own_order: tuple[int, ...] = ()
    own_why: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        """Refuse what no panel has."""
        if self.rows not in (1, 2):
            raise BadInput("rows", self.rows, "one row of staples, or two")
        if self.fold and self.fold not in get_args(FoldKey):
            raise BadInput("fold", self.fold, "one of " + ", ".join(get_args(FoldKey)))
        if len(self.posts) > MOST_POSTS:
            raise BadInput("posts", len(self.posts), f"at most {MOST_POSTS} posts")
        if len(self.found) > MOST_FOUND:
            raise BadInput("found", len(self.found), f"at most {MOST_FOUND} things found on a panel")
        if len(self.own_order) > MOST_PLACES or sorted(self.own_order) != list(range(len(self.own_order))):
            raise BadInput("own_order", len(self.own_order), "each place of a plan once")
        wrong = [*(t for t in self.ticks if t not in SQUARE), *(s for s in self.done if s not in STAGES)]
        wrong += [way for way in self.closings.values() if way not in CLOSINGS]
        if wrong:
            raise BadInput("ticks", wrong[0], "a tick, a stage or a closing that there is")

    @property
    def pleats(self) -> Pleats | None:
        """The pleats between the lengths that were measured; None where they were not."""
        return pleats(self.outer, self.inner, deep=self.deep) if self.outer and self.inner else None

    def toggled(self, field_: str, key: str) -> Chosen:
        """Return it with a tick set, or taken back where it stands: of `ticks`, `done`, `top_stitched`, `welted`."""
        now: tuple[str, ...] = getattr(self, field_)
        after = tuple(k for k in now if k != key) if key in now else (*now, key)
        return replace(self, **{field_: after})  # type: ignore[arg-type]

    def is_square(self, ticks: tuple[str, ...]) -> bool:
        """Whether all that must be true before the second staple is ticked."""
        return set(ticks) <= set(self.ticks)
