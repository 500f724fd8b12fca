"""What the core raises: one root, two branches, each also the built-in kind that it resembles."""

from __future__ import annotations


class ZonatomeError(Exception):
    """The root of every refusal of the core."""


class BadInput(ZonatomeError, ValueError):
    """A value the core refuses: its key, the value, what was expected; and where that reads badly, in `words` of its
    own.
    """

    def __init__(self, key: str, value: object, expected: str, *, words: str = "") -> None:
        shown = repr(value)
        if len(shown) > 80:
            shown = shown[:77] + "..."
        super().__init__(f"{key}: expected {expected}, got {shown}")
        self.key, self.value, self.expected, self.words = key, value, expected, words

    @property
    def sentence(self) -> str:
        """The refusal as a page says it."""
        return self.words or f"Expected {self.expected}."

    @property
    def told(self) -> str:
        """The same with what was not taken."""
        return self.words or f"Expected {self.expected}; got {self.value}."


class NoAnswer(ZonatomeError, LookupError):
    """A correct request that has no answer; the message says why."""
