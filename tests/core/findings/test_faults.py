"""Fault codes and odd colours: by hand, common practice."""

import datetime as dt

import pytest

from barodex.core.findings.debris import assess
from barodex.core.findings.finding import FOREIGN, DebrisContext, Finding
from barodex.core.findings.surprises import Reset, code_of, fault_lines, faults_back, odd_colour, returned_fault

ON = dt.date(2026, 5, 4)


def read(days, before=(), after=(), cleared=False):
    return Reset(ON + dt.timedelta(days=days), (), "", "", tuple(before), tuple(after), cleared)


@pytest.mark.parametrize(
    ("typed", "lines"),
    [
        ("", ()),
        ("none", ()),
        ("No faults.\n\n", ()),
        ("U1:  coupling   worn\nu2 supply low", ("U1: coupling worn", "u2 supply low")),
        ("U1 first\nu1: the same again", ("U1 first",)),
    ],
)
def test_codes_are_read_one_a_line_each_once(typed, lines):
    assert fault_lines(typed) == lines


def test_a_code_is_the_first_word_in_capitals():
    assert [code_of(x) for x in ("u1: worn", "U1 worn", "u1")] == ["U1", "U1", "U1"]


def test_a_cleared_code_that_is_read_again_after_the_drive_is_back():
    once = read(0, ["U1 worn", "U2 supply"], ["u1: worn"], cleared=True)
    assert faults_back([once]) == (("u1: worn", once, once),)


def test_a_cleared_code_that_is_read_again_at_the_next_service_is_back():
    first, second = read(0, ["U1 worn"], (), cleared=True), read(300, ["U1 worn"], ())
    assert faults_back([first, second]) == (("U1 worn", first, second),)
    assert returned_fault([first, second]).rule == "fault-returned"
    assert "4 May 2026" in returned_fault([first, second]).text


def test_what_was_never_cleared_or_is_another_code_is_not_back():
    assert faults_back([read(0, ["U1 worn"], ["U1 worn"])]) == ()
    assert faults_back([read(0, ["U1 worn"], ["U2 supply"], cleared=True)]) == ()
    assert faults_back([read(0, (), ["U1 worn"], cleared=True)]) == ()


@pytest.mark.parametrize("colour", FOREIGN)
def test_a_foreign_colour_is_watched_and_asked(colour):
    seen = assess(Finding(colour=colour), DebrisContext("axle"))
    assert (seen.level, seen.reasons[0].rule) == (2, "odd-colour")
    odd = odd_colour(colour, "Gear Oil")
    assert (odd.rule, "while Gear Oil is inside by the book" in odd.text) == ("odd-colour", True)
    assert "by the book" not in odd_colour(colour, "").text


@pytest.mark.parametrize("colour", [None, "fresh", "black"])
def test_a_colour_of_age_is_not_odd(colour):
    assert odd_colour(colour, "Gear Oil") is None
