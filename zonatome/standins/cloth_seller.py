"""A cloth seller's stand-in: a small service on this machine, with stock in lots that runs out, price breaks, lead
times and samples.

It speaks JSON over HTTP, so that a real seller could answer in its place (docs/files.md has the questions and answers):

    GET  /offers?name=…             what it asks for a cloth, and the lots it has
    POST /orders   {name, lot, length}   a length of one lot, in mm; 409 where it has run out meanwhile
    POST /samples  {name}           a sample, which may measure thicker than was said
    GET  /things?name=…             what it asks for a sundry: webbing, foam, staples; a pack and its price
    POST /thing-orders {name, packs}  packs of it; what is not there comes later, as a second part
    POST /returns  {number, packs}  packs of an order back, for nine tenths of their price

Its stock lies in a file and is the same after a restart. Now and then another customer buys: what was there a moment
ago may be gone.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Callable, Iterable
from datetime import date, timedelta
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs

MOST_BODY = 4_000
EVERY = 4  # offers after which another customer buys
BUYS = 2_000.0  # mm
THICKER = {"any": 1.24, "one_way": 1.05}  # samples of vinyl come thicker than said, pile a little

Stock = dict[str, dict[str, Any]]
LATER = 7  # days after the first part that the rest of an order comes
CREDIT = 0.9  # of the price of what comes back

# sundries by a word in their name: pack, its price, how much is there, days; lengths in mm
THINGS: tuple[tuple[str, float, str, float, int], ...] = (
    ("webbing", 50_000, "31.00", 150_000, 2),
    ("hessian", 10_000, "34.00", 60_000, 2),
    ("wadding", 25_000, "84.00", 75_000, 3),
    ("edge roll", 10_000, "19.00", 40_000, 4),
    ("foam", 1, "46.00", 3, 5),
    ("spring", 10, "14.00", 60, 4),
    ("twine", 100_000, "12.00", 400_000, 2),
    ("buttons", 20, "9.00", 200, 3),
    ("zip", 10_000, "26.00", 50_000, 3),
    ("welt cord", 100_000, "22.00", 300_000, 2),
    ("strip", 25_000, "18.00", 100_000, 3),
    ("gimp", 25_000, "41.00", 50_000, 6),
    ("nails", 1_000, "12.50", 4_000, 4),
    ("bottom cloth", 20_000, "44.00", 80_000, 2),
    ("lining", 20_000, "58.00", 40_000, 3),
    ("staples", 10_000, "38.00", 80_000, 1),
)


def _cloth(
    price: str, step: str, lots: dict[str, float], thickness: float, direction: str, lead: int, **more: Any
) -> dict[str, Any]:
    return {
        "price": price, "sold_in": "m", "sold_by": step, "least": more.get("least", 0.0), "breaks": more.get("breaks",
        []),
        "lots": lots, "thickness": thickness, "direction": direction, "lead_days": lead, "asked": 0, "orders": 0,
    }  # fmt: skip


def first_stock() -> Stock:
    """Return what the seller begins with; all of it is made up."""
    return {
        "Skerry, slate": _cloth(
            "34.50", "tenth", {"S-41": 7_300.0, "S-44": 22_000.0}, 1.1, "two_way", 3, breaks=[[10_000, "31.90"]]
        ),
        "Skerry, oat": _cloth("34.50", "tenth", {"O-12": 3_400.0, "O-15": 9_600.0}, 1.1, "two_way", 3),
        "Tern, velvet": _cloth("52.00", "half", {"T-7": 4_500.0, "T-9": 5_000.0}, 1.8, "one_way", 9, least=1_000.0),
        "Bollard, vinyl": _cloth(
            "27.80", "half", {"B-3": 30_000.0}, 1.2, "any", 2, breaks=[[5_000, "25.20"], [15_000, "22.40"]]
        ),
        "Gannet, teal": _cloth("61.00", "half", {"G-2": 6_000.0, "G-5": 2_500.0}, 1.2, "one_way", 12, least=2_000.0),
        "Marram, sand": _cloth("38.20", "tenth", {"M-18": 11_000.0}, 0.9, "two_way", 4),
        "Deck cotton": _cloth("9.40", "tenth", {"D-1": 60_000.0}, 0.8, "two_way", 1),
    }


class Seller:
    """The seller's counter: its stock, kept in a file."""

    def __init__(self, place: Path, *, today: Callable[[], date] = date.today) -> None:
        """Open with the stock as it was left."""
        self.place, self.today, self.lock = place, today, threading.Lock()
        self.stock: Stock = json.loads(place.read_text()) if place.exists() else first_stock()
        self.orders: dict[str, dict[str, Any]] = {}  # of sundries, since it opened

    def _keep(self) -> None:
        self.place.parent.mkdir(parents=True, exist_ok=True)
        beside = self.place.with_suffix(".new")
        beside.write_text(json.dumps(self.stock, indent=1))
        beside.replace(self.place)

    def offer(self, name: str) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to what it asks for a cloth."""
        with self.lock:
            row = self.stock.get(name)
            if row is None:
                return 404, {"words": f"no {name} in our books"}
            row["asked"] += 1
            told = {
                key: row[key] for key in ("price", "sold_in", "sold_by", "least", "breaks", "thickness", "lead_days")
            }
            lots = [{"lot": lot, "length": length} for lot, length in row["lots"].items() if length > 0]
            if row["asked"] % EVERY == 0:
                self._another_customer(row)
            self._keep()
            return 200, {"name": name, **told, "lots": lots}

    def _another_customer(self, row: dict[str, Any]) -> None:
        lots = row["lots"]
        lot = max(lots, key=lambda k: lots[k])
        if lots[lot] >= 2 * BUYS:
            lots[lot] -= BUYS

    def order(self, name: str, lot: str, length: float) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to an order of a length of one lot."""
        with self.lock:
            row = self.stock.get(name)
            if row is None or lot not in row["lots"]:
                return 404, {"words": f"no lot {lot} of {name}"}
            if not 0 < length <= 1_000_000:
                return 422, {"words": "a length in mm, at most a kilometre"}
            if row["lots"][lot] < length - 0.5:
                return 409, {"words": f"only {row['lots'][lot] / 1000:.2f} m of lot {lot} are left"}
            row["lots"][lot] = round(row["lots"][lot] - length, 1)
            row["orders"] += 1
            reached = [b for b in row["breaks"] if length >= b[0]]
            price = float(reached[-1][1]) if reached else float(row["price"])
            self._keep()
            arrives = self.today() + timedelta(days=row["lead_days"])
            number = f"{''.join(w[0] for w in name.split())}{row['orders']:03d}"
            return 200, {
                "number": number,
                "lot": lot,
                "length": length,
                "cost": f"{price * length / 1000:.2f}",
                "arrives": arrives.isoformat(),
            }

    def thing(self, name: str) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to what it asks for a sundry."""
        row = next((row for row in THINGS if row[0] in name.lower()), None)
        if row is None:
            return 404, {"words": f"no {name} in our books"}
        return 200, {"pack": row[1], "price": row[2], "there": row[3], "lead_days": row[4]}

    def order_thing(self, name: str, packs: int) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to an order of packs of a sundry; what is not there comes as a second part."""
        status, told = self.thing(name)
        if status != 200:
            return status, told
        if not 0 < packs <= 1000:
            return 422, {"words": "1 to 1000 packs"}
        amount = packs * told["pack"]
        at_once = min(amount, told["there"])
        soon = self.today() + timedelta(days=told["lead_days"])
        parts = [{"amount": at_once, "arrives": soon.isoformat()}]
        if amount > at_once:
            later = soon + timedelta(days=LATER)
            parts.append({"amount": amount - at_once, "arrives": later.isoformat()})
        with self.lock:
            number = f"S{1001 + len(self.orders)}"
            self.orders[number] = {"packs": packs, "price": float(told["price"])}
        return 200, {"number": number, "cost": f"{float(told['price']) * packs:.2f}", "parts": parts}

    def take_back(self, number: str, packs: int) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to packs of an order that come back."""
        with self.lock:
            row = self.orders.get(number)
            if row is None:
                return 404, {"words": f"no order {number}"}
            if not 0 < packs <= row["packs"]:
                return 409, {"words": f"only {row['packs']} packs of {number} went out"}
            row["packs"] -= packs
            return 200, {"credit": f"{row['price'] * packs * CREDIT:.2f}"}

    def sample(self, name: str) -> tuple[int, dict[str, Any]]:
        """Return (status, answer) to the wish for a sample: what was said of its thickness, and what it measures."""
        with self.lock:
            row = self.stock.get(name)
            if row is None:
                return 404, {"words": f"no {name} in our books"}
            return 200, {
                "said": row["thickness"],
                "measures": round(row["thickness"] * THICKER.get(row["direction"], 1.0), 2),
            }


def service(seller: Seller) -> Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]:
    """Return the seller as a WSGI application."""

    def answer(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        status, told = _asked(seller, environ)
        words = {200: "OK", 404: "Not Found", 405: "Method Not Allowed", 409: "Conflict", 422: "Unprocessable Content"}[
            status
        ]
        content = json.dumps(told).encode()
        start_response(
            f"{status} {words}", [("Content-Type", "application/json"), ("Content-Length", str(len(content)))]
        )
        return [content]

    return answer


def _asked(seller: Seller, environ: dict[str, Any]) -> tuple[int, dict[str, Any]]:
    path, method = environ.get("PATH_INFO", ""), environ.get("REQUEST_METHOD", "GET")
    looked = {"/offers": seller.offer, "/things": seller.thing}
    if path in looked and method == "GET":
        return looked[path](parse_qs(environ.get("QUERY_STRING", "")).get("name", [""])[0])
    if path in SENT and method == "POST":
        try:
            size = min(int(environ.get("CONTENT_LENGTH") or 0), MOST_BODY)
            return _sent(seller, path, json.loads(environ["wsgi.input"].read(size)))
        except (ValueError, KeyError, TypeError):
            return 422, {"words": "JSON with name, and for an order lot and length in mm, or packs"}
    known = path in SENT or path in looked
    return (405 if known else 404), {"words": "ask for " + ", ".join((*looked, *SENT))}


SENT = ("/orders", "/samples", "/thing-orders", "/returns")


def _sent(seller: Seller, path: str, told: Any) -> tuple[int, dict[str, Any]]:
    if path == "/samples":
        return seller.sample(str(told["name"]))
    if path == "/thing-orders":
        return seller.order_thing(str(told["name"]), int(told["packs"]))
    if path == "/returns":
        return seller.take_back(str(told["number"]), int(told["packs"]))
    return seller.order(str(told["name"]), str(told["lot"]), float(told["length"]))
