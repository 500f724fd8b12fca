"""Reading JSON that somebody else wrote: bounded, and every refusal names the key and what was expected."""

from __future__ import annotations

import difflib
import json
import math
from collections.abc import Mapping
from typing import Any

from zonatome.core.errors import BadInput

MOST_BYTES = 4_000_000  # a lay request of thousands of traced points stays far below
BIGGEST = 1e15  # a whole number in JSON may have more digits than any float


def read_json(text: str | bytes, *, key: str = "file") -> dict[str, Any]:
    """Return the JSON object in a text; refuses other JSON, and more than 4 MB."""
    if len(text) > MOST_BYTES:
        raise BadInput(key, f"{len(text)} bytes", f"at most {MOST_BYTES} bytes")
    try:
        data = json.loads(text)
    except RecursionError as err:
        raise BadInput(key, "lists in lists without end", "a JSON object") from err
    except ValueError as err:
        raise BadInput(key, str(err), "a JSON object") from err
    if not isinstance(data, dict):
        raise BadInput(key, type(data).__name__, "a JSON object")
    return data


def check_format(data: Mapping[str, Any], name: str, *, version: int = 1) -> None:
    """Refuse another format or a version that this reader does not know, naming both."""
    if data.get("format") != name:
        raise BadInput("format", data.get("format"), repr(name))
    if data.get("version") != version or isinstance(data.get("version"), bool):
        raise BadInput("version", data.get("version"), f"version {version} of {name}")


def wanted(data: Mapping[str, Any], key: str, where: str = "") -> Any:
    """Return what stands under a key that must be there; a near miss among the others is named."""
    if key in data:
        return data[key]
    near = difflib.get_close_matches(key, list(data), n=1)
    raise BadInput(where + key, None, f"the key {key!r}" + (f" (found {near[0]!r})" if near else ""))


def number(value: Any, key: str, *, least: float = -math.inf, most: float = math.inf) -> float:
    """Return a finite number within bounds."""
    told = not isinstance(value, bool) and isinstance(value, int | float)
    if not told or abs(value) > BIGGEST or not math.isfinite(value) or not least <= value <= most:
        bounds = "" if least == -math.inf else f" from {least:g}" + ("" if most == math.inf else f" to {most:g}")
        raise BadInput(key, value, f"a number{bounds}")
    return float(value)


def whole(value: Any, key: str, *, least: int, most: int) -> int:
    """Return a whole number within bounds."""
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value <= most:
        raise BadInput(key, value, f"a whole number from {least} to {most}")
    return value


def listed(value: Any, key: str, *, least: int = 0, most: int = 10_000) -> list[Any]:
    """Return a list with a bounded count of entries."""
    if not isinstance(value, list) or not least <= len(value) <= most:
        shown = len(value) if isinstance(value, list) else value
        raise BadInput(key, shown, f"a list of {least} to {most} entries")
    return value


def table(value: Any, key: str) -> dict[str, Any]:
    """Return a JSON object."""
    if not isinstance(value, dict):
        raise BadInput(key, value, "a JSON object")
    return value


def words(data: Mapping[str, Any], key: str, *, most: int = 200) -> str:
    """Return a text that may be empty or missing. Raises BadInput for another value, or a longer one."""
    value = data.get(key) or ""
    return text(value, key, most=most) if value else ""


def text(value: Any, key: str, *, most: int = 200) -> str:
    """Return a text of bounded length that is not empty."""
    if not isinstance(value, str) or not value or len(value) > most:
        raise BadInput(key, value, f"a text of 1 to {most} characters")
    return value
