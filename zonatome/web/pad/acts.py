"""What can be pressed beside a pad's boxes: each makes another stack of the one that was typed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from zonatome.core.errors import BadInput
from zonatome.core.formats.stack_json import read_stack, write_stack
from zonatome.core.pad.sorts import sort_named
from zonatome.core.pad.stack import Layer, Stack
from zonatome.core.pad.usual import usual_stacks
from zonatome.web.jobs.models import JobPart
from zonatome.web.pad.models import OwnStack
from zonatome.web.pad.services import role_of_part

KNOWN = ("keep", "add", "drop", "up", "down", "move", "usual", "own", "remember")


def is_known(act: str) -> bool:
    """Whether this is something that can be pressed."""
    return act.partition(":")[0] in KNOWN


def acted(part: JobPart, stack: Stack, act: str, sent: Mapping[str, Any]) -> Stack:
    """Return the stack after what was pressed: `drop:2`, `move:0:3`, `usual:webbed`. Raises BadInput for what there is
    not.
    """
    what, _, rest = act.partition(":")
    if what == "add":
        made = sort_named(str(sent.get("layer", "")), at="layer")
        return stack.added(Layer(made.key, made.usual, kept=made.key == "old_pad"))
    if what in ("drop", "up", "down", "move"):
        return _reordered(stack, what, [_place(number) for number in rest.split(":")])
    if what == "usual":
        return _taken(stack, next((u.stack for u in usual_stacks(part.job.kind, part.part) if u.key == rest), None))
    if what == "own":
        row = OwnStack.objects.filter(pk=_place(rest), role=role_of_part(part)).first()
        return _taken(stack, read_stack(row.stack) if row else None)
    if what == "remember":
        _remember(part, stack, str(sent.get("own_name", "")).strip())
    return stack


def _reordered(stack: Stack, what: str, places: list[int]) -> Stack:
    if what == "drop":
        return stack.dropped(places[0])
    to = places[0] + 1 if what == "up" else places[0] - 1 if what == "down" else places[-1]
    return stack.moved(places[0], to)


def _place(told: str) -> int:
    if not (told.isascii() and told.isdigit() and len(told) < 9):
        raise BadInput("layer", told, "the number of a layer", words="That layer is not there any more.")
    return int(told)


def _taken(stack: Stack, other: Stack | None) -> Stack:
    """The layers and rails of another stack; heights and buttons stay."""
    if other is None:
        raise BadInput("act", "", "a way to build this pad", words="That way to build it is not there any more.")
    return replace(stack, layers=other.layers, buttons=stack.buttons or other.buttons, rail=other.rail)


def _remember(part: JobPart, stack: Stack, name: str) -> None:
    if not 1 <= len(name) <= 60:
        raise BadInput("own_name", name, "a name of 1 to 60 letters", words="Give it a name of 1 to 60 letters.")
    OwnStack.objects.update_or_create(role=role_of_part(part), name=name, defaults={"stack": write_stack(stack)})
