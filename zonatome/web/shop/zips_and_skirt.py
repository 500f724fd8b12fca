"""What a job takes besides its lay and its pads: the zips of cushions, buttons, a skirt."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

from zonatome.core.formats.trim_json import read_skirt
from zonatome.core.shop.buying import MM_PER_SOLD, price_at
from zonatome.core.trim.skirt import Skirt, SkirtAsk, SkirtStrips, skirt_strips
from zonatome.web.jobs.models import Job, JobPart
from zonatome.web.lay.models import Cloth
from zonatome.web.pad.services import worked_of, zip_of

USUAL_ROLL = 1400.0  # mm: how wide a cloth or a lining usually is


@dataclass(frozen=True)
class SkirtOn:
    """A job's skirt: as it is wished, what one takes, how its strips are cut for the whole set, and its lining's."""

    ask: SkirtAsk
    made: Skirt
    cloth: Cloth | None
    strips: SkirtStrips
    lining: SkirtStrips | None

    @property
    def cost(self) -> Decimal:
        """What its cloth costs at the price of that length."""
        if self.cloth is None:
            return Decimal(0)
        price = price_at(self.strips.run, self.cloth.price, self.cloth.price_breaks())
        return round(price * Decimal(self.strips.run / MM_PER_SOLD[self.cloth.sold_in]), 2)


def skirt_of(job: Job) -> SkirtOn | None:
    """Return a job's skirt; None where it has none. Of the cloth that its trim is cut from, else its first."""
    ask = read_skirt(job.skirt)
    if ask is None:
        return None
    own = job.trim_cloth or next(iter(job.cloths.all()), None)
    cloth = own.cloth if own is not None else None
    made = ask.made()
    return SkirtOn(
        ask,
        made,
        cloth,
        skirt_strips(
            made.cloth, cloth.width - 2 * cloth.selvage if cloth else USUAL_ROLL, furniture=job.count,
            repeat=(cloth.repeat_along or 0.0) if cloth else 0.0,
        ),
        skirt_strips(made.lining, USUAL_ROLL, furniture=job.count) if made.lining else None,
    )  # fmt: skip


@dataclass(frozen=True)
class ZipOn:
    """The zips of one cushion of a job: which, how long, where, how many; mm."""

    part: JobPart
    length: float
    words: str
    count: int


@dataclass(frozen=True)
class ButtonsOn:
    """The buttons of one panel of a job: how many on one, in all, their size and twine in mm where its pad says so."""

    part: JobPart
    each: int
    count: int
    size: float | None
    twine: float


def zips_of(job: Job) -> list[ZipOn]:
    """Return the zips of a job's cushions."""
    found = []
    for part in job.pads():
        if (own := zip_of(part)) is not None:
            found.append(ZipOn(part, own[0], own[1], part.pieces))
    return found


def buttons_of(job: Job) -> list[ButtonsOn]:
    """Return the buttons of a job's panels."""
    found, pads = [], job.pads()
    for part in job.panels():
        if part.part.buttons is None:
            continue
        plan = worked_of(part).buttons if part in pads else None
        each = part.part.buttons.count
        twine = plan.twine * part.pieces if plan else 0.0
        found.append(ButtonsOn(part, each, each * part.pieces, plan.hole if plan else None, twine))
    return found
