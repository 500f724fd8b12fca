"""Findings by layer and the verdict they usually lead to.

The verdict is proposed by rule and in words; the worker's own stands above it.
"""

from __future__ import annotations

from dataclasses import dataclass

from zonatome.core.errors import BadInput

LAYERS = ("frame", "support", "filling", "cover")
VERDICTS = {"keep": "keep", "renew": "renew", "strengthen": "strengthen", "cover_over": "cover over"}


@dataclass(frozen=True)
class Finding:
    """A thing that one finds in a layer, how to test for it, the verdict it leads to and why."""

    key: str
    layer: str
    words: str
    verdict: str
    reason: str


_ROWS = (
    Finding("frame_sound", "frame", "Rigid when rocked, joints tight", "keep", "nothing moves when it is rocked"),
    Finding("frame_loose", "frame", "Wobbles, a joint is open", "strengthen", "reglue and clamp before anything else; either glue stands overnight"),
    Finding("frame_holes", "frame", "Screw holes stripped", "strengthen", "drill out, glue in a dowel, drill again"),
    Finding("frame_broken", "frame", "A rail is cracked or broken", "renew", "a seat carries people: leave structural repair to a joiner"),
    Finding("support_sound", "support", "Flat and firm when pressed", "keep", "it springs back and does not sag"),
    Finding("support_slack", "support", "Sags in the middle under load", "renew", "needs webbing across, not more foam"),
    Finding("support_spring", "support", "A spring is flat, rusted or loose", "strengthen", "retie or change that spring, new hessian over"),
    Finding("support_hessian", "support", "Hessian gone through", "renew", "the foam would wear on webs and springs"),
    Finding("filling_sound", "filling", "Springs back, full height", "keep", "no dent stays after pressing"),
    Finding("filling_flat", "filling", "Stays dented, a fifth of its height lost", "renew", "foam that has lost a fifth will not come back"),
    Finding("filling_crumbles", "filling", "Crumbles to dust", "renew", "old crumbling foam: mask on, bag it"),
    Finding("filling_smell", "filling", "Stained or smells", "renew", "a smell stays in the filling"),
    Finding("filling_thin", "filling", "Wadding worn thin", "strengthen", "new wadding over it; it is cheap"),
    Finding("cover_sound", "cover", "Sound, clean, flat, no smell; woven", "cover_over", "new cloth may go over it, if the added thickness still fits"),
    Finding("cover_worn", "cover", "Worn, torn or faded", "renew", "strip to the layer that is sound"),
    Finding("cover_slick", "cover", "Vinyl or hide", "renew", "vinyl and hide are not covered over: nothing grips on them"),
    Finding("cover_smell", "cover", "Smells or stained", "renew", "dust and smell would stay inside"),
)  # fmt: skip
FINDINGS: dict[str, Finding] = {row.key: row for row in _ROWS}


def findings_of(layer: str) -> tuple[Finding, ...]:
    """Return the findings of one layer, the sound one first."""
    if layer not in LAYERS:
        raise BadInput("layer", layer, "one of " + ", ".join(LAYERS))
    return tuple(f for f in _ROWS if f.layer == layer)


def proposed_verdict(finding_key: str) -> Finding:
    """Return the finding with the verdict it leads to and the reason; BadInput for one that is not in the table."""
    if finding_key not in FINDINGS:
        raise BadInput("finding", finding_key, "one of " + ", ".join(FINDINGS))
    return FINDINGS[finding_key]
