"""The quote: lines sum to the cent whatever is asked, options differ by what they say, paper and file say the same."""

from __future__ import annotations

import io
from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from zonatome.core.errors import BadInput
from zonatome.core.formats.quote_json import read_options, write_options
from zonatome.core.formats.quote_pdf import QuotePage, quote_pdf
from zonatome.core.rules import rules_of
from zonatome.core.shop.estimate import Material, Rates, StepTime
from zonatome.core.shop.quote import Option, Terms, differences, holds_until, quote, rounded, terms_by

cents = st.decimals(0, 3000, places=2)
shares = st.decimals(0, 1, places=3)
terms_asked = st.builds(
    Terms, tax=shares, round_to=st.sampled_from([Decimal(n) for n in ("0", "0.05", "1", "5", "10")]), deposit=shares
)
lines = st.lists(
    st.tuples(st.sampled_from(["cloth", "foam", "welt cord", "zips"]), cents), max_size=4, unique_by=lambda r: r[0]
)


def made(costs, minutes: float, terms: Terms, key: str = "as_planned") -> Option:
    materials = tuple(Material(what, f"{cost} of it", cost) for what, cost in costs)
    figure = quote(materials, (StepTime("fasten", minutes),), Rates(), new=Decimal(900), terms=terms)
    return Option(key, "as_planned", f"as planned {key}", figure, materials)


@given(lines, lines, st.floats(0, 4000), st.floats(0, 4000), terms_asked)
def test_money_sums_to_the_cent_and_options_differ_by_what_they_say(costs, others, minutes, more, terms):
    one, other = made(costs, minutes, terms), made(others, more, terms, "other")
    for figure in (one.quote, other.quote):
        assert figure.before_tax + figure.tax + figure.rounding == figure.total
        assert figure.deposit + figure.balance == figure.total
        assert 0 <= figure.deposit <= figure.total
        assert abs(figure.rounding) <= max(terms.round_to / 2, Decimal("0.005"))
        assert figure.saves == 900 - figure.total
        amounts = (figure.total, figure.tax, figure.labour, figure.sundries, figure.deposit, figure.rounding)
        assert all(amount == amount.quantize(Decimal("0.01")) for amount in amounts)
    assert sum((d.more for d in differences(one, other)), Decimal(0)) == other.quote.total - one.quote.total
    assert differences(one, one) == ()
    assert read_options(write_options((one, other)))[1].quote.total == other.quote.total
    assert read_options(write_options((one,)))[0].materials == one.materials


def test_by_hand_one_quote():
    # cloth 80.00 with a quarter: 100.00; two and a half hours at 42: 105.00; 5 % of 205.00: 10.25; 20 % tax of 215.25:
    # 43.05; 258.30, to the next five 260.00; 40 % of that at once, 104, to the next five 105.00
    terms = Terms(tax=Decimal("0.2"), round_to=Decimal(5), deposit=Decimal("0.4"), days=30)
    figure = made([("cloth", Decimal(80))], 150, terms).quote
    assert (figure.materials_with_margin, figure.labour, figure.sundries) == (100, 105, Decimal("10.25"))
    assert (figure.tax, figure.rounding, figure.total) == (Decimal("43.05"), Decimal("1.70"), 260)
    assert (figure.deposit, figure.balance) == (105, 155)
    assert holds_until(date(2026, 11, 30), terms) == date(2026, 12, 30)
    assert rounded(Decimal("0.125"), Decimal(0)) == Decimal("0.13")
    assert terms_by(rules_of({"tax": 0.19, "round_to": 0})) == Terms(Decimal("0.19"), Decimal("0"), Decimal("0.4"), 30)
    with pytest.raises(BadInput):
        made([], 10, Terms(tax=Decimal(2)))


def test_the_paper_has_every_option_with_its_lines():
    terms = Terms(tax=Decimal("0.2"))
    options = (made([("Skerry, slate", Decimal(80))], 150, terms), made([("foam", Decimal(12))], 90, terms, "B & co"))
    page = QuotePage(
        "Quayside Workroom", "118 Foyer", "Lantern & Co", "30 November", "30 December", "€", "<b>", options
    )
    for units in ("metric", "imperial"):
        words = "\n".join(p.extract_text() for p in PdfReader(io.BytesIO(quote_pdf(page, units=units))).pages)
        for option in options:
            for amount in (option.quote.total, option.quote.tax, option.quote.deposit, option.quote.balance):
                assert f"€ {amount:,.2f}" in words
        assert "For Lantern & Co. This quote holds until 30 December." in words
        assert "<b>" in words
        assert "B. As planned B & co" in words


@pytest.mark.parametrize(
    ("change", "key"),
    [
        ({"format": "zonatome.lay"}, "format"),
        ({"options": []}, "options"),
        ({"options": [{"sort": "free"}]}, "options[0].sort"),
        ({"options": [{"sort": "cloth", "figures": {"materials": "NaN"}}]}, "options[0].figures.materials"),
        ({"options": [{"sort": "cloth", "figures": {"materials": "1e30"}}]}, "options[0].figures.materials"),
    ],
)
def test_what_is_no_quote_is_refused_with_its_place(change, key):
    told = write_options((made([], 60, Terms()),))
    with pytest.raises(BadInput) as refused:
        read_options({**told, **change})
    assert refused.value.key == key
