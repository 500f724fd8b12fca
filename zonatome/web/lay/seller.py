"""The cloth seller, as the application asks it: an interface, and the one that speaks HTTP behind it."""

from __future__ import annotations

import json
import threading
import urllib.error
import urllib.request
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from http.client import HTTPException
from typing import Any, Protocol
from urllib.parse import quote

from django.conf import settings

from zonatome.core.errors import BadInput, NoAnswer
from zonatome.core.formats import reading
from zonatome.core.shop.buying import MM_PER_SOLD, MOST_BREAKS, SOLD_BY, PriceBreak, StockLot

PATIENCE = 4.0  # seconds
MOST_ANSWER = 100_000
MOST_LOTS = 200
THICKEST = 20.0  # mm


@dataclass(frozen=True)
class Offer:
    """What a seller asks for a cloth, and what it has of it; lengths in mm."""

    price: Decimal
    sold_in: str
    sold_by: str
    least: float
    breaks: tuple[PriceBreak, ...]
    lots: tuple[StockLot, ...]
    thickness: float
    lead_days: int


@dataclass(frozen=True)
class Confirmed:
    """An order that the seller has taken."""

    number: str
    lot: str
    length: float
    cost: Decimal
    arrives: date


@dataclass(frozen=True)
class Sample:
    """A sample: the thickness that was said and the one it measures, in mm."""

    said: float
    measures: float


@dataclass(frozen=True)
class ThingOffer:
    """What a seller asks for a sundry: the price of a pack, how much a pack holds in the thing's own unit, how much is
    there, how many days it takes.
    """

    pack: float
    price: Decimal
    there: float
    lead_days: int


@dataclass(frozen=True)
class ThingConfirmed:
    """An order of a sundry that the seller has taken: what it costs, and what arrives when, in one part or several."""

    number: str
    cost: Decimal
    parts: tuple[tuple[float, date], ...]


class ClothSeller(Protocol):
    """What the application asks of any seller.

    Each raises NoAnswer with the seller's words, or that it does not answer.
    """

    def offer(self, name: str) -> Offer:
        """Return what it asks for a cloth."""
        ...

    def order(self, name: str, lot: str, length: float) -> Confirmed:
        """Order a length in mm of one lot."""
        ...

    def sample(self, name: str) -> Sample:
        """Have a sample sent and measured."""
        ...

    def thing(self, name: str) -> ThingOffer:
        """Return what it asks for a sundry."""
        ...

    def order_thing(self, name: str, packs: int) -> ThingConfirmed:
        """Order so many packs of a sundry."""
        ...

    def take_back(self, number: str, packs: int) -> Decimal:
        """Send packs of an order back; returns what is credited."""
        ...


def the_seller() -> ClothSeller | None:
    """Return the seller that this installation asks; None where none is set."""
    return HttpSeller(settings.SELLER) if settings.SELLER else None


class _NoRedirects(urllib.request.HTTPRedirectHandler):
    """A seller answers where it is asked, and sends nobody elsewhere."""

    def redirect_request(self, *_: Any) -> None:
        """Follow none."""
        return


_OPENER = urllib.request.build_opener(_NoRedirects)


def _within_patience(asked: urllib.request.Request) -> bytes:
    """Ask and read the answer, all of it within PATIENCE, however slowly it comes. Raises OSError or HTTPException."""
    told: list[bytes | Exception] = []

    def ask() -> None:
        try:
            with _OPENER.open(asked, timeout=PATIENCE) as answer:
                told.append(answer.read(MOST_ANSWER))
        except Exception as wrong:
            told.append(wrong)

    asking = threading.Thread(target=ask, daemon=True)
    asking.start()
    asking.join(PATIENCE)
    answer = told[0] if told else TimeoutError("no whole answer in time")
    if isinstance(answer, Exception):
        raise answer
    return answer


class HttpSeller:
    """A seller behind an address, answering JSON; the stand-in that `serve` starts is one."""

    def __init__(self, address: str) -> None:
        """`address` is where its service answers, without a slash at its end."""
        self.address = address.rstrip("/")

    def _ask(self, path: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
        data = None if body is None else json.dumps(body).encode()
        asked = urllib.request.Request(self.address + path, data=data, headers={"Content-Type": "application/json"})
        try:
            return reading.read_json(_within_patience(asked), key="seller")
        except urllib.error.HTTPError as refused:
            raise NoAnswer(self._words(refused)) from refused
        except BadInput as strange:
            raise NoAnswer("The seller answers something that cannot be read.") from strange
        except (OSError, HTTPException, ValueError) as silent:
            raise NoAnswer("The seller does not answer as a seller does; ask again later.") from silent

    @staticmethod
    def _words(refused: urllib.error.HTTPError) -> str:
        try:
            words = reading.read_json(refused.read(MOST_ANSWER), key="seller").get("words")
        except (BadInput, OSError):
            words = None
        return f"The seller says: {str(words)[:160]}." if words else f"The seller refuses ({refused.code})."

    def offer(self, name: str) -> Offer:
        """Return what it asks for a cloth. Raises NoAnswer."""
        told = self._ask(f"/offers?name={quote(name)}")
        try:
            return _offer(told)
        except BadInput as strange:
            raise NoAnswer(f"The seller answers something that cannot be read: {strange}.") from strange

    def order(self, name: str, lot: str, length: float) -> Confirmed:
        """Order a length of one lot. Raises NoAnswer, also where it has run out meanwhile."""
        told = self._ask("/orders", {"name": name, "lot": lot, "length": length})
        try:
            return Confirmed(
                reading.text(told.get("number"), "number", most=40),
                reading.text(told.get("lot"), "lot", most=30),
                reading.number(told.get("length"), "length", least=1),
                _money(told.get("cost"), "cost"),
                date.fromisoformat(reading.text(told.get("arrives"), "arrives", most=10)),
            )
        except ValueError as strange:
            raise NoAnswer(f"The seller confirms something that cannot be read: {strange}.") from strange

    def sample(self, name: str) -> Sample:
        """Return a sample's thickness. Raises NoAnswer."""
        told = self._ask("/samples", {"name": name})
        try:
            return Sample(
                *(reading.number(told.get(key), key, least=0.05, most=THICKEST) for key in ("said", "measures"))
            )
        except BadInput as strange:
            raise NoAnswer("The seller sends a sample that says nothing of its thickness.") from strange

    def thing(self, name: str) -> ThingOffer:
        """Return what it asks for a sundry. Raises NoAnswer."""
        told = self._ask(f"/things?name={quote(name)}")
        try:
            return ThingOffer(
                reading.number(told.get("pack"), "pack", least=0.001, most=1e7),
                _money(told.get("price"), "price"),
                reading.number(told.get("there"), "there", least=0, most=1e9),
                reading.whole(told.get("lead_days"), "lead_days", least=0, most=400),
            )
        except BadInput as strange:
            raise NoAnswer(f"The seller answers something that cannot be read: {strange}.") from strange

    def order_thing(self, name: str, packs: int) -> ThingConfirmed:
        """Order so many packs of a sundry. Raises NoAnswer."""
        told = self._ask("/thing-orders", {"name": name, "packs": packs})
        try:
            rows = [reading.table(row, "parts") for row in reading.listed(told.get("parts"), "parts", least=1, most=20)]
            return ThingConfirmed(
                reading.text(told.get("number"), "number", most=40),
                _money(told.get("cost"), "cost"),
                tuple(
                    (
                        reading.number(row.get("amount"), "amount", least=0.001, most=1e9),
                        date.fromisoformat(reading.text(row.get("arrives"), "arrives", most=10)),
                    )
                    for row in rows
                ),
            )
        except ValueError as strange:
            raise NoAnswer(f"The seller confirms something that cannot be read: {strange}.") from strange

    def take_back(self, number: str, packs: int) -> Decimal:
        """Send packs of an order back. Raises NoAnswer, also for more than was ordered."""
        told = self._ask("/returns", {"number": number, "packs": packs})
        try:
            return _money(told.get("credit"), "credit")
        except BadInput as strange:
            raise NoAnswer(f"The seller answers something that cannot be read: {strange}.") from strange


def _money(value: Any, key: str) -> Decimal:
    try:
        return Decimal(str(reading.number(float(value), key, least=0, most=1e7))).quantize(Decimal("0.01"))
    except (TypeError, ValueError) as strange:
        raise BadInput(key, value, "an amount") from strange


def _offer(told: dict[str, Any]) -> Offer:
    sold_in, sold_by = told.get("sold_in"), told.get("sold_by")
    if sold_in not in MM_PER_SOLD or sold_by not in SOLD_BY:
        raise BadInput("sold_in", (sold_in, sold_by), "a unit and a step that this application knows")
    breaks = [
        reading.listed(b, "breaks", least=2, most=2)
        for b in reading.listed(told.get("breaks") or [], "breaks", most=MOST_BREAKS)
    ]
    lots = [reading.table(row, "lots") for row in reading.listed(told.get("lots") or [], "lots", most=MOST_LOTS)]
    return Offer(
        _money(told.get("price"), "price"),
        sold_in,
        sold_by,
        reading.number(told.get("least") or 0, "least", least=0, most=1e6),
        tuple(
            PriceBreak(reading.number(at, "breaks", least=1, most=1e6), _money(price, "breaks")) for at, price in breaks
        ),
        tuple(
            StockLot(
                reading.text(row.get("lot"), "lot", most=30),
                reading.number(row.get("length"), "length", least=0, most=1e7),
            )
            for row in lots
        ),
        reading.number(told.get("thickness"), "thickness", least=0.05, most=THICKEST),
        reading.whole(told.get("lead_days"), "lead_days", least=0, most=400),
    )
