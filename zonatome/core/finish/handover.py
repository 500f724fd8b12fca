"""What must be done before a piece of furniture goes home. The list must be empty."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Standing:
    """How a job stands, in plain counts, as the record has it."""

    furniture: int
    parts_on_again: int
    parts_off: int
    bags: int
    bags_emptied: int
    screws: int
    holes_found: bool
    had_label: bool
    label_on: bool
    feet: int
    feet_done: bool
    after_photos: int
    pieces: int = 0
    pieces_cut: int = 0


@dataclass(frozen=True)
class Open:
    """One thing still to do: its key, the words, and whether a press ticks it off (else the record itself does)."""

    key: str
    words: str
    is_ticked_by_hand: bool


def still_open(job: Standing) -> tuple[Open, ...]:
    """Return what is still open before it goes home; empty means that it may go.

    Source: trade rule of handing over: bags, holes, label, feet, photos.
    """
    found = []
    if job.pieces_cut < job.pieces:
        found.append(Open("cut", f"{job.pieces_cut} of {job.pieces} pieces are cut", False))
    if job.parts_on_again < job.parts_off:
        found.append(Open("parts", f"{job.parts_on_again} of {job.parts_off} things that came off are back on", False))
    if job.bags_emptied < job.bags:
        left = job.bags - job.bags_emptied
        words = (
            "The bag is not empty yet"
            if job.bags == 1
            else f"{left} of {job.bags} bags {'is' if left == 1 else 'are'} not empty yet"
        )
        found.append(Open("bags", words, False))
    if job.screws and not job.holes_found:
        found.append(
            Open(
                "holes",
                f"Find the {job.screws * job.furniture} screw holes through the cloth and notch them, none blocked",
                True,
            )
        )
    if job.had_label and not job.label_on:
        found.append(Open("label", "The maker's label back on", True))
    if job.feet and not job.feet_done:
        found.append(Open("feet", f"Look at {job.feet * job.furniture} feet: pads on, none wobbles", True))
    if not job.after_photos:
        found.append(Open("photo", "A photo after, to stand beside the one before", False))
    return tuple(found)
