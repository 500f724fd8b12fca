"""Findings by layer, the tests that show them, and the verdict they lead to together.

The verdict is proposed by rule and in words; the worker's own stands above it.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from zonatome.core.errors import BadInput

LAYERS = ("frame", "support", "filling", "cover")
VERDICTS = {"keep": "keep", "renew": "renew", "strengthen": "strengthen", "cover_over": "cover over"}
FROM_OUTSIDE = ("frame_feet", "frame_holes")  # mended from below: no cover is in the way
WEIGHT = {"renew": 3, "strengthen": 2, "cover_over": 1, "keep": 0}  # of several findings, the gravest decides


@dataclass(frozen=True)
class LayerTest:
    """A test that people use on a layer: its name, what to do, what it tells."""

    layer: str
    name: str
    how: str
    tells: str


TESTS = (
    LayerTest("frame", "Rock", "Hold it by the top rail and rock it side to side, then front to back.", "An open joint clicks or gives."),
    LayerTest("frame", "Screws", "Turn each screw a quarter.", "One that only turns has a stripped hole."),
    LayerTest("frame", "Look under", "A lamp along the rails: cracks, round holes with dust, flaking paint.", "Insects leave fine dust; old paint may hold lead."),
    LayerTest("support", "Press", "A fist in the middle with your weight on it.", "More than a hand's breadth down and it sags."),
    LayerTest("support", "Look under", "Webs, clips and springs from below.", "Rust, a spring off its clip, hessian gone through."),
    LayerTest("filling", "Press and let go", "The flat hand, ten seconds.", "A dent that stays: the foam has had its time."),
    LayerTest("filling", "Measure", "Its height at the middle against the edge.", "A fifth lost will not come back."),
    LayerTest("filling", "Smell", "Close to it, after pressing the air out.", "Must, smoke or damp stay in a filling."),
    LayerTest("filling", "Look in", "One loose corner: what is it, does it crumble.", "Something that you don't know is left alone."),
    LayerTest("cover", "Look along", "The edges, the front rail and the arm fronts against the light.", "Wear, fading, a seam that opens."),
    LayerTest("cover", "Rub and smell", "A damp white cloth, then the nose.", "Dirt and smell that a new cloth would shut in."),
)  # fmt: skip


@dataclass(frozen=True)
class Finding:
    """A thing that one finds in a layer, the verdict it leads to and why; `caution` is the caution that it calls
    for.
    """

    key: str
    layer: str
    words: str
    verdict: str
    reason: str
    caution: str = ""


_ROWS = (
    Finding("frame_sound", "frame", "Rigid when rocked, joints tight", "keep", "nothing moves when it is rocked"),
    Finding("frame_loose", "frame", "Wobbles, a joint is open", "strengthen", "reglue and clamp before anything else; either glue stands overnight"),
    Finding("frame_holes", "frame", "Screw holes stripped", "strengthen", "drill out, glue in a dowel, drill again"),
    Finding("frame_feet", "frame", "Feet or foot pads worn", "strengthen", "new pads; one that is short is made up"),
    Finding("frame_broken", "frame", "A rail is cracked or broken", "renew", "a seat carries people: leave structural repair to a joiner", "structure"),
    Finding("frame_insects", "frame", "Small round holes, fine dust", "strengthen", "something may live in it: apart from other work, and ask a specialist", "insects"),
    Finding("frame_paint", "frame", "Old paint, flaking or under wax", "keep", "test it before it is sanded; it may hold lead", "old_paint"),
    Finding("support_sound", "support", "Flat and firm when pressed", "keep", "it springs back and does not sag"),
    Finding("support_slack", "support", "Sags in the middle under load", "renew", "needs webbing across, not more foam"),
    Finding("support_spring", "support", "A spring is flat, rusted or loose", "strengthen", "retie or change that spring, new hessian over", "springs"),
    Finding("support_hessian", "support", "Hessian gone through", "renew", "the foam would wear on webs and springs"),
    Finding("filling_sound", "filling", "Springs back, full height", "keep", "no dent stays after pressing"),
    Finding("filling_flat", "filling", "Stays dented, a fifth of its height lost", "renew", "foam that has lost a fifth will not come back"),
    Finding("filling_crumbles", "filling", "Crumbles to dust", "renew", "old crumbling foam: mask on, bag it", "foam_dust"),
    Finding("filling_smell", "filling", "Stained or smells", "renew", "a smell stays in the filling"),
    Finding("filling_thin", "filling", "Wadding worn thin", "renew", "new wadding; it is cheap"),
    Finding("filling_mould", "filling", "Mould, dark spots, damp", "renew", "mould is not kept: mask on, bag it out of doors", "mould"),
    Finding("filling_unknown", "filling", "Something that you don't know", "renew", "stop and ask a specialist before it is touched", "unknown_filling"),
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


def ways_to_test(layer: str) -> tuple[LayerTest, ...]:
    """Return the tests that people use on a layer."""
    return tuple(t for t in TESTS if t.layer == layer)


def finding_named(key: str) -> Finding:
    """Return the finding of this key; BadInput names the ones there are."""
    if key not in FINDINGS:
        raise BadInput("finding", key, "one of " + ", ".join(FINDINGS))
    return FINDINGS[key]


@dataclass(frozen=True)
class Verdict:
    """What shall become of a layer, and why, in words."""

    verdict: str
    reason: str

    @property
    def words(self) -> str:
        """The verdict as one says it."""
        return VERDICTS[self.verdict]


def proposed(layer: str, found: Collection[str], *, fits_over: bool | None = None) -> Verdict | None:
    """Return the verdict that the findings of all layers lead to for one, or nothing before it has been looked at.

    The gravest finding of the layer decides; frame, support and filling must all allow a cover-over. A sound cover is
    covered over only where nothing under it must be reached or would stay inside, and where it still fits (`fits_over`
    False says that it does not; None that nobody has measured). A sound filling under a slack support is kept, and
    lifted off to get there. Source: trade rules of the survey. Raises BadInput for a finding or layer that there is
    not."""
    rows = [finding_named(key) for key in sorted(found, key=list(FINDINGS).index)]
    own = [f for f in rows if f.layer == layer]
    if layer not in LAYERS:
        raise BadInput("layer", layer, "one of " + ", ".join(LAYERS))
    if not own:
        return None
    gravest = max(own, key=lambda f: WEIGHT[f.verdict])
    if gravest.verdict == "cover_over":
        return _cover(rows, gravest, fits_over)
    reason = gravest.reason
    also = [f.reason for f in own if f is not gravest and f.verdict != "keep"]
    if also:
        reason += "; also " + "; ".join(also)
    if (
        layer == "filling"
        and gravest.verdict == "keep"
        and any(f.layer == "support" and f.verdict == "renew" for f in rows)
    ):
        reason += "; it is lifted off whole to reach the support under it"
    return Verdict(gravest.verdict, reason)


def _cover(rows: list[Finding], sound: Finding, fits_over: bool | None) -> Verdict:
    shut_in = next(
        (f for f in rows if f.key in ("filling_smell", "filling_mould", "filling_unknown", "frame_insects")), None
    )
    if shut_in:
        return Verdict(
            "renew", f"the cover itself is sound, but it would shut in what is under it: {shut_in.words.lower()}"
        )
    reach = next((f for f in rows if f.layer != "cover" and f.verdict != "keep" and f.key not in FROM_OUTSIDE), None)
    if reach:
        return Verdict(
            "renew", f"the cover itself is sound, but the {reach.layer} has to be reached: {reach.words.lower()}"
        )
    if fits_over is False:
        return Verdict(
            "renew", "the cover itself is sound, but with another cloth over it the seat does not drop in any more"
        )
    return Verdict(
        sound.verdict, sound.reason if fits_over is None else "it is sound, and with the new cloth over it still fits"
    )


def cautions_called(found: Collection[str]) -> tuple[str, ...]:
    """Return the keys of the cautions that the findings call for, each once."""
    return tuple(dict.fromkeys(f.caution for key in found if (f := finding_named(key)).caution))
