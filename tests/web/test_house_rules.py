"""The workroom's own rules: set, bounded, set back; what they touch is said; every sum reads them."""

from __future__ import annotations

import html
import re
from decimal import Decimal

import pytest

from tests.web.conftest import block, padded_with
from zonatome.core.errors import BadInput
from zonatome.core.rules import RULES, USUAL, Rules, rules_of
from zonatome.core.trace.usual import usual_shape
from zonatome.web.jobs.loading import load_job
from zonatome.web.jobs.models import Workroom
from zonatome.web.jobs.services import hang_tag
from zonatome.web.lay.services import add_cloth, cloth_standing, start_lay
from zonatome.web.pad.services import set_board, set_stack
from zonatome.web.shop.services import materials_of, money_of, rates_of
from zonatome.web.trace.services import keep_new_shape, shape_of_part
from zonatome.web.trim.models import TrimLine

HOUSE = "/workroom/rules/"


def sent(**changed) -> dict[str, str]:
    """All boxes as the page shows them, some changed."""
    page = {}
    for rule in RULES.values():
        figure = rule.figure * 100 if rule.unit == "share" else rule.figure
        page[rule.key] = f"{figure:g}" + (" mm" if rule.unit == "length" else "")
    return page | changed


def test_every_rule_is_shown_beside_the_trade_s_figure_in_the_workroom_s_unit(bench, workroom):
    page = bench.get(HOUSE).content.decode()
    assert page.count("the trade:") == len(RULES)
    workroom.units = "imperial"
    workroom.save()
    page = bench.get(HOUSE).content.decode()
    assert "the trade: 1/2 in" in page
    assert not re.search(r"the trade: [\d.]+ (mm|cm)", page)


def test_what_is_a_metre_s_is_a_yard_s_in_an_inch_workroom_and_stays_to_the_last_digit(bench, stool, workroom):
    """By hand: edge roll at 10 minutes a metre is 9.144 a yard, 0.9144 m long; 12 typed for a yard are 13.1234 a
    metre; four stools with 1.6 m of welt each have 6.4 m, 7 yards.
    """
    Workroom.objects.update(units="imperial", own_rules={"minutes_welt_made": 3.33333, "cord_metre": 0.41})
    page = bench.get(HOUSE).content.decode()
    assert "A yard of edge roll (min)" in page
    assert "the trade: 9.14 min" in page
    assert "a metre" not in page.lower()
    shown = dict(re.findall(r'<input type="(?:text|number)" name="(\w+)" value="([^"]*)"', page))
    assert (shown["minutes_edge_roll"], shown["adds_sewn"], shown["adds_raw_under_trim"]) == ("9.14", "1/2", "1")
    assert "3 to 3 7/8 in for a hand-hold" in page, "no note has a bare number of millimetres"
    sent_back = {rule.key: shown[rule.key] for rule in RULES.values()}
    assert bench.post(HOUSE, sent_back).status_code == 302
    assert Workroom.the_one().own_rules == {"minutes_welt_made": 3.33333, "cord_metre": 0.41}, "nothing was changed"
    bench.post(HOUSE, sent_back | {"minutes_edge_roll": "12", "adds_sewn": "3/4"})
    own = Workroom.the_one().own_rules
    assert own["minutes_edge_roll"] == pytest.approx(12 / 0.9144, abs=1e-6)
    assert own["adds_sewn"] == pytest.approx(19.05)
    refused = bench.post(HOUSE, sent_back | {"minutes_edge_roll": "110"})
    assert refused.status_code == 422
    assert "Expected a number from 0 to 109.728." in refused.content.decode(), "120 minutes a metre are the most"
    refused = bench.post(HOUSE, sent_back | {"adds_sewn": "thick", "minutes_edge_roll": ""}).content.decode()
    assert "a length such as 52 cm, 520 mm, 20 1/2 in" in html.unescape(refused)
    assert "Expected a number from 0 to 109.728." in refused
    bench.post(HOUSE, sent_back | {"adds_sewn": "1/2 in", "minutes_edge_roll": "9.14"})
    assert not {"adds_sewn", "minutes_edge_roll"} & set(Workroom.the_one().own_rules), "as the trade is said here"
    money = bench.get(f"/tags/{stool.number}/money/").content.decode()
    assert not re.search(r"\d m\b", re.sub(r"<[^>]+>", " ", money))


def test_a_changed_allowance_reaches_shapes_and_says_which_lays_are_out_of_date(bench, stool, skerry):
    chair = load_job(hang_tag(title="Chair", client="x", kind="armchair").number)
    for key in ("front_band", "inside_arm_left"):
        part = chair.parts_by_key()[key]
        keep_new_shape(part, usual_shape(part.part), "rectangle")
    add_cloth(load_job(chair.number), skerry, "main")
    start_lay(load_job(chair.number).cloths.get())
    band = load_job(chair.number).parts_by_key()["front_band"]
    assert shape_of_part(band).cut_line.height == pytest.approx(190 + 13 + 50)
    answer = bench.post(HOUSE, sent(adds_stapled_under="75 mm", tuck_gap="90 mm"), follow=True)
    assert "2 shapes took it; 1 lay is out of date." in answer.content.decode()
    fresh = load_job(chair.number)
    assert shape_of_part(fresh.parts_by_key()["front_band"]).cut_line.height == pytest.approx(190 + 13 + 75)
    arm = shape_of_part(fresh.parts_by_key()["inside_arm_left"])
    assert (arm.cut_line.width, arm.cut_line.height) == (pytest.approx(500 + 75 + 140), pytest.approx(340 + 75 + 140))
    assert cloth_standing(fresh.cloths.get()).is_stale
    answer = bench.post(
        HOUSE, sent(adds_stapled_under="75 mm", tuck_gap="90 mm") | {"reset": "adds_stapled_under"}, follow=True
    )
    assert Workroom.the_one().own_rules == {"tuck_gap": 90.0}
    assert shape_of_part(load_job(chair.number).parts_by_key()["front_band"]).cut_line.height == pytest.approx(253)
    new = load_job(hang_tag(title="Chair", client="x", kind="armchair").number).parts_by_key()["inside_arm_left"]
    keep_new_shape(new, usual_shape(new.part).held_as(new.part, new.job.rules), "rectangle")
    assert shape_of_part(new).cut_line.width == pytest.approx(500 + 50 + 140)


def test_give_minutes_prices_welt_and_cloths_follow_the_rules(bench, stool, skerry, workroom):
    block(bench, stool)
    seat = load_job(stool.number).parts_by_key()["seat"]
    set_board(seat, board_width=370, board_depth=370, board_thickness=18)
    set_stack(load_job(stool.number).parts_by_key()["seat"], padded_with(50))
    assert load_job(stool.number).parts_by_key()["seat"].pad_measured == pytest.approx(54)
    before = money_of(load_job(stool.number), Workroom.the_one())
    changed = sent(
        give="20",
        minutes_shape="24",
        foam_50="100",
        strap="100 mm",
        welt_seam="10 mm",
        more_welt="0",
        squaring="250 mm",
    )
    assert bench.post(HOUSE, changed).status_code == 302
    fresh = load_job(stool.number)
    assert fresh.parts_by_key()["seat"].pad_measured == pytest.approx(48)
    assert shape_of_part(fresh.parts_by_key()["seat"]).outline.width == pytest.approx(370 + 2 * (48 + 18))
    after = money_of(fresh, Workroom.the_one())
    assert (
        next(t for t in after.times if t.step == "trace").minutes
        == 2 * next(t for t in before.times if t.step == "trace").minutes
    )
    foam = next(m for m in materials_of(fresh, rates_of(Workroom.the_one()), "metric") if "foam" in m.what)
    assert foam.cost == Decimal("100.00")
    assert add_cloth(fresh, skerry, "main").squaring == 250
    fresh.trim_kind = "welt"
    fresh.save()
    TrimLine.objects.create(job=fresh, name="Round", length=1000, is_closed=True)
    from zonatome.web.trim.services import trims_of_job

    (summed,) = trims_of_job(load_job(stool.number))
    assert summed.to_cut == summed.total
    assert summed.strip_width == pytest.approx(3.14159 * 7 + 20, abs=0.01)


def test_a_figure_out_of_bounds_is_refused_in_words_and_changes_nothing(bench, workroom):
    for wrong in ({"give": "80"}, {"strap": "5 km"}, {"foam_50": "-3"}, {"minutes_foam_cut": "often"}):
        answer = bench.post(HOUSE, sent(**wrong))
        assert answer.status_code == 422
        assert "Not kept yet" in answer.content.decode()
    assert Workroom.the_one().own_rules == {}
    for own in ({"antlers": 3}, {"give": True}, {"give": float("nan")}, {"give": "much"}):
        with pytest.raises(BadInput):
            rules_of(own)


def test_one_press_on_the_trade_s_figure_is_the_trade_s_figure():
    own = Rules((("tuck_gap", 90.0),))
    assert (own.adds("tucked"), USUAL.adds("tucked"), own.adds("on_fold")) == (140, 110, 0)
    assert rules_of({key: rule.figure for key, rule in RULES.items()}) == USUAL
