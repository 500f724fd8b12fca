"""Large packages that few pages need: imported when something of them is first used, not when the site starts."""

from __future__ import annotations

from importlib import import_module
from typing import Any


class Lazily:
    """Stands for a module until something of it is asked for. `if TYPE_CHECKING:
    import x` beside it keeps its types.
    """

    def __init__(self, name: str) -> None:
        """Take the module's name; nothing is imported yet."""
        self.name = name

    def __getattr__(self, attribute: str) -> Any:
        """Import the module and return what is asked of it."""
        return getattr(import_module(self.name), attribute)
