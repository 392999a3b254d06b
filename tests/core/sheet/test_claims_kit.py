"""Which source to trust, what a revision changed, and what must be at hand before the start. Common practice throughout."""

import datetime as dt

import pytest

from barodex.core.oil.lubricant import Requirement
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.sheet.claims import Claim, agree, conflicts, fill_difference_ml, rank_claims, what_changed
from barodex.core.sheet.kit import KitItem, join_kits, kit_of, readiness
from barodex.core.sheet.sheet import Plug, Sheet

DAY = dt.date(2020, 5, 1)


def test_the_newest_bulletin_wins_and_a_guess_comes_last():
    claims = [
        Claim("guess", 2500),
        Claim("manual", 2300, published=DAY),
        Claim("bulletin", 2100, published=DAY),
        Claim("bulletin", 2000, published=DAY.replace(year=2023)),
        Claim("plate", 2200),
    ]
    assert [claims[k].number for k in rank_claims(claims)] == [2000, 2100, 2200, 2300, 2500]
    with pytest.raises(Inconsistent, match="not a source"):
        rank_claims([Claim("rumour", 1)])


def test_two_units_that_agree_and_two_that_contradict():
    # 2.3 L and 4.87 US pints are the same amount (NIST SP 811: 1 US pint = 473.176473 mL); 2.3 L and 2.3 US quarts are not.
    litres, pints, quarts = Claim("plate", 2300), Claim("manual", 4.87 * 473.176473), Claim("forum", 2.3 * 946.352946)
    assert agree(litres, pints)
    assert conflicts([litres, pints, quarts]) == ((0, 2), (1, 2))
    assert agree(Claim("plate", words="75W-80 "), Claim("manual", words="75w-80"))
    assert conflicts([Claim("plate", words="GL-4"), Claim("manual", words="GL-5")]) == ((0, 1),)


def test_what_a_revision_changed():
    changed = what_changed({"capacity": "2 300 mL", "grade": "75W-80", "old": "x"}, {"capacity": "2 000 mL", "grade": "75W-80", "new": "y"})
    assert [(c.figure, c.before, c.after) for c in changed] == [("capacity", "2 300 mL", "2 000 mL"), ("new", "", "y"), ("old", "x", "")]


def test_a_fill_by_a_superseded_capacity_is_off_by_the_difference():
    assert fill_difference_ml(None, 2300, 2000) == 300
    assert fill_difference_ml(2250, 2300, 2000) == 250


PLUGS = (
    Plug("fill", "fill plug", "hex socket", 12, "crush washer", 37),
    Plug("drain", "drain plug", "hex socket", 12, "crush washer", 43, True),
    Plug("level", "level screw", "by hand", None, "thread-lock"),
)


def sheet(drain="plug", plugs=PLUGS):
    return Sheet("manual gearbox", Requirement("gear"), 2000, "to the lip", drain, plugs)


def test_the_kit_follows_from_the_plugs():
    kit = {i.name: i for i in kit_of(sheet(), (KitItem("cover gasket", "part", 1, False),), "12 mm, 60 cm")}
    assert kit["12 mm hex socket"].count == 1  # one key serves both
    assert kit["12 mm hex socket"].use == "fill plug, drain plug; short and long"
    assert kit["crush washer for 12 mm drain plug"].mandatory
    assert not kit["thread-lock"].mandatory
    assert kit["torque wrench"].use == "37 to 43 N·m"
    assert not kit["filling hose"].mandatory
    assert kit["filling hose"].use == "12 mm, 60 cm"
    assert not kit["cover gasket"].mandatory
    pump = {i.name: i for i in kit_of(sheet("suction", ()))}["suction pump"]
    assert "measure the hole" in pump.use


def test_seals_add_up_over_compartments_and_tools_do_not():
    joined = {i.name: i for i in join_kits((("front", kit_of(sheet())), ("rear", kit_of(sheet()))))}
    assert joined["crush washer for 12 mm drain plug"].count == 2
    assert joined["12 mm hex socket"].count == 1
    assert "front" in joined["12 mm hex socket"].use
    assert "rear" in joined["12 mm hex socket"].use


def test_what_nobody_counts_is_neither_there_nor_missing():
    lines = {x.item.name: x.state for x in readiness(kit_of(sheet()), {"12 MM hex socket": 1, "crush washer for 12 mm drain plug": 0})}
    assert lines["12 mm hex socket"] == "there"
    assert lines["crush washer for 12 mm drain plug"] == "missing"
    assert lines["torque wrench"] == "not counted"


def test_a_kit_item_that_cannot_be_is_refused():
    with pytest.raises(Inconsistent, match="needs a name"):
        kit_of(sheet(), (KitItem(" ", "part"),))
    with pytest.raises(Inconsistent, match="not a seal"):
        kit_of(sheet(), (KitItem("x", "gadget"),))
    with pytest.raises(OutOfRange, match="count"):
        kit_of(sheet(), (KitItem("x", "part", 0),))
