"""What is decided for a frame's finish, and what goes with the furniture when it leaves."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from zonatome.core.errors import BadInput
from zonatome.core.finish.coats import GRITS, MOST_COATS, Coat, FinishPlan, Prepared, finish_plan

MOST_CERTIFICATES = 12
LONGEST = 300  # letters


@dataclass(frozen=True)
class Frame:
    """How a job's frame is finished: m2 of wood of one piece of furniture, how it is prepared, grits, coats; whether
    the wood is masked because the cloth is on already, along how many mm of its edge on one; how many steps are done.
    """

    area: float | None = None
    prepared: Prepared = "sand"
    grits: tuple[int, ...] = GRITS
    coats: tuple[Coat, ...] = ()
    is_masked: bool = False
    done: int = 0
    masked_along: float = 0.0

    def __post_init__(self) -> None:
        """Refuse what can't be planned."""
        if self.prepared not in ("strip", "scrape", "sand"):
            raise BadInput("prepared", self.prepared, "strip, scrape or sand")
        if len(self.coats) > MOST_COATS:
            raise BadInput("coats", len(self.coats), f"at most {MOST_COATS} coats")
        if self.area is not None:
            self.plan(1)

    def plan(self, furniture: int) -> FinishPlan | None:
        """Return the plan for so many pieces of furniture at once; None while nobody has said how much wood it is."""
        if self.area is None:
            return None
        masked = self.masked_along * furniture if self.is_masked else None
        return finish_plan(self.area * furniture, self.coats, prepared=self.prepared, grits=self.grits, masked=masked)


@dataclass(frozen=True)
class Certificate:
    """What a seller has certified, by name and date."""

    words: str
    on: date

    def __post_init__(self) -> None:
        """Refuse one without a name."""
        if not 1 <= len(self.words) <= LONGEST:
            raise BadInput("certificate", self.words, f"what it says, up to {LONGEST} letters")


@dataclass(frozen=True)
class HandOver:
    """What goes with the furniture: the care that the seller of the cloth states, what was certified, what is left and
    where it is.
    """

    care: str = ""
    certificates: tuple[Certificate, ...] = ()
    left: str = ""

    def __post_init__(self) -> None:
        """Refuse more than a page holds."""
        for key in ("care", "left"):
            if len(getattr(self, key)) > LONGEST:
                raise BadInput(key, getattr(self, key), f"up to {LONGEST} letters")
        if len(self.certificates) > MOST_CERTIFICATES:
            raise BadInput("certificates", len(self.certificates), f"at most {MOST_CERTIFICATES}")
