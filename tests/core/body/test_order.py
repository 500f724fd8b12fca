"""What is painted first: faces told apart by rays, not by how far off their middles are."""

import numpy as np
import pytest

from zonatome.core.body.build import body_of
from zonatome.core.body.cloth import Look, usual_piece
from zonatome.core.body.figures import figures_on
from zonatome.core.body.order import Quads, hidden_behind, put_in_order
from zonatome.core.body.values import way_out
from zonatome.core.body.views import Eye, eye_for, view_named
from zonatome.core.lay.request import Repeat
from zonatome.core.survey.kinds import KINDS

EYE = Eye(np.zeros(3), 2000.0, view_named("front"))


def quads_of(corners):
    corners = np.array(corners, float)
    seen, depth = EYE.seen(corners)
    return Quads(corners, way_out(corners), seen, depth), EYE.how_far(corners.mean(axis=1))


def upright(x0, x1, z0, z1, y):
    """A face that looks forward, toward the eye, at a depth."""
    return [(x0, y, z0), (x1, y, z0), (x1, y, z1), (x0, y, z1)]


def slanting(x0, x1, near, deep, z0, z1):
    return [(x0, near, z0), (x1, deep, z0), (x1, deep, z1), (x0, near, z1)]


@pytest.mark.parametrize("is_first", [True, False])
def test_a_long_rail_that_slants_away_stays_before_the_small_patch_behind_its_near_end(is_first):
    """Its middle is farther off than the patch: by middles the patch would be painted over it."""
    rail, patch = slanting(-300, 900, -100, 1200, -40, 40), upright(-280, -200, -30, 30, 60)
    faces = [rail, patch] if is_first else [patch, rail]
    quads, far = quads_of(faces)
    front, behind = (0, 1) if is_first else (1, 0)
    assert far[front] > far[behind], "as their middles have it"
    after = put_in_order(quads, far, EYE.place)
    assert after[behind] > after[front]
    aside, far = quads_of([rail, upright(-280, -200, 200, 260, 60)])
    assert put_in_order(aside, far, EYE.place).tolist() == far.tolist(), "what does not lie over it stays"


def test_a_chain_of_faces_is_painted_from_the_back_one_and_touching_ones_stay_as_they_are():
    chain = [slanting(k * 50, k * 50 + 400, -k * 40, 900 - k * 40, -40, 40) for k in range(4)]
    quads, far = quads_of(chain)
    after = put_in_order(quads, -far, EYE.place)  # begun the wrong way round
    assert (np.diff(after) < 0).all(), "each lies before the one to its left"
    beside, far = quads_of([upright(0, 100, 0, 100, 0), upright(100, 200, 0, 100, 0.5)])
    assert put_in_order(beside, far, EYE.place).tolist() == far.tolist()


def test_a_welt_behind_a_post_is_painted_before_it_and_one_on_it_is_not_moved():
    quads, far = quads_of([upright(-30, 30, -200, 200, 0)])
    places = np.array([[0.0, 60.0, 0.0], [0.0, -2.0, 0.0], [0.0, 3.0, 0.0], [90.0, 60.0, 0.0]])
    least = hidden_behind(quads, far, places, EYE.seen(places)[0], EYE.place)
    assert least[0] > far[0]
    assert np.isneginf(least[1:]).all()


@pytest.mark.parametrize("key", ["wing", "hall", "round_stool"])
def test_every_figure_of_a_motif_lies_on_its_panel_and_none_is_lost_when_panels_are_drawn_together(key):
    body, look = body_of(KINDS[key], cells=8), Look((40, 110, 115), Repeat(160, 172, 0.5, (0, 0)))
    laid = [(patch, usual_piece(look)) for patch in body.patches]
    (together,) = figures_on(laid, is_small=False)
    begins = np.cumsum(together.sizes) - together.sizes
    eye = eye_for(body, view_named("front"))
    for n, (patch, piece) in enumerate(laid):
        chosen = np.flatnonzero(together.panels == n)
        alone = figures_on([(patch, piece)], is_small=False)
        assert len(chosen) == sum(len(one.sizes) for one in alone)
        assert (together.cells[chosen] < len(patch.cells)).all()
        if len(chosen):
            own = np.concatenate([together.there[begins[k] : begins[k] + together.sizes[k]] for k in chosen])
            low, high = patch.points.reshape(-1, 3).min(axis=0), patch.points.reshape(-1, 3).max(axis=0)
            assert (own > low - 12).all()
            assert (own < high + 12).all()
    assert np.isfinite(eye.seen(together.there)[0]).all()
