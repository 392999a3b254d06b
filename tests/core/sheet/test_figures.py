"""The declared figures: each bound, each list, what contradicts what. Bounds are common practice, as their declaration states them."""

import dataclasses

import pytest

from barodex.core.kinds.kind import COMPARTMENT_KINDS, fluid_rules
from barodex.core.oil.lubricant import Requirement
from barodex.core.quantity.errors import Inconsistent, OutOfRange
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.figures import GROUPS, QUANTITIES, Figures, check_figures, declared
from barodex.core.sheet.plausible import more_than_it_holds
from barodex.core.sheet.sheet import Head, Plug, Sheet, Variant, asked_by, resolve, sheet_of
from barodex.core.sheet.work import touched_plugs

NUMBERS = [name for name, of in declared().items() if of.meaning.kind in (*QUANTITIES, "minutes", "months", "count")]
CHOICES = [name for name, of in declared().items() if of.meaning.choices]
TEXTS = [name for name, of in declared().items() if of.meaning.longest]


def made(**changed):
    return Figures(**({"family": "gear"} | changed))


def together(name, value):
    """A figure with what it cannot stand without."""
    beside = {"window_low_c": ("window_high_c", 120.0), "window_high_c": ("window_low_c", 0.0)}
    other = dict([beside[name]]) if name in beside else {}
    return made(**other, **{name: value})


@pytest.mark.parametrize("name", NUMBERS)
def test_a_number_is_accepted_to_its_bounds_and_refused_beyond_them(name):
    meaning = declared()[name].meaning
    assert meaning.low < meaning.high
    for value in (meaning.low, meaning.high):
        if name not in ("window_low_c", "window_high_c"):
            check_figures(together(name, value))
    for value in (meaning.low - 0.5, meaning.high + 0.5):
        with pytest.raises(OutOfRange) as refused:
            check_figures(together(name, value))
        assert refused.value.field == name
        assert refused.value.value == value


@pytest.mark.parametrize("name", CHOICES)
def test_a_word_that_is_not_in_the_list_is_refused_at_its_field(name):
    several = declared()[name].meaning.several
    with pytest.raises(Inconsistent, match="cheese") as refused:
        check_figures(made(**{name: ("cheese",) if several else "cheese"}))
    assert refused.value.field == (f"{name}.0" if several else name)


@pytest.mark.parametrize("name", sorted(set(TEXTS) - set(CHOICES)))
def test_a_text_ends_at_its_longest(name):
    meaning = declared()[name].meaning
    for length, fits in ((meaning.longest, True), (meaning.longest + 1, False)):
        text = "a" * length
        figures = made(**{name: (text,) if meaning.several else text})
        if fits:
            check_figures(figures)
        else:
            with pytest.raises(OutOfRange, match=f"At most {meaning.longest}"):
                check_figures(figures)


def test_a_list_ends_at_its_most():
    most = declared()["resets"].meaning.most
    check_figures(made(resets=("counter",) * most))
    with pytest.raises(OutOfRange) as refused:
        check_figures(made(resets=("counter",) * (most + 1)))
    assert (refused.value.field, refused.value.value) == ("resets", most + 1)


@pytest.mark.parametrize(
    ("changed", "field"),
    [
        ({"capacity_ml": 2000.0, "total_ml": 1999.0}, "total_ml"),
        ({"window_low_c": 40.0}, "window_high_c"),
        ({"window_high_c": 40.0}, "window_low_c"),
        ({"window_low_c": 40.0, "window_high_c": 40.0}, "window_low_c"),
    ],
)
def test_figures_that_contradict_each_other_are_refused(changed, field):
    with pytest.raises(Inconsistent) as refused:
        check_figures(made(**changed))
    assert refused.value.field == field
    check_figures(made(capacity_ml=2000.0, total_ml=2000.0, window_low_c=40.0, window_high_c=45.0))


def test_every_figure_says_what_it_is():
    for name, of in declared().items():
        assert of.meaning.group in GROUPS, name
        assert of.meaning.label
        assert set(of.meaning.kinds) <= set(COMPARTMENT_KINDS)
        assert of.meaning.kinds
        assert "{}" in of.meaning.said or of.meaning.kind == "flag"
    files = [of.in_file for of in declared().values()]
    assert len(files) == len(set(files)) == len(dataclasses.fields(Figures))
    assert declared()["flush_ml"].meaning.kinds == ("hub gear", "chain case")  # where clutch linings run in the oil nothing is flushed


def test_a_sheet_is_made_of_its_figures():
    figures = made(
        capacity_ml=8000.0, window_low_c=35.0, window_high_c=45.0, level_engine="running", selector="P", thermostat_c=82.0, resets=("a",)
    )
    asked = asked_by("axle", figures, limited_slip=True)
    sheet = sheet_of("axle", figures, asked, (), number=3)
    assert (sheet.capacity_ml, sheet.surplus_ml, sheet.number, sheet.resets) == (8000.0, 0.0, 3, ("a",))
    assert (sheet.level.window.low_c, sheet.level.thermostat_c, sheet.level.engine, sheet.level.selector) == (35.0, 82.0, "running", "P")
    assert asked.limited_slip is True  # the compartment answers what the sheet leaves open …
    assert asked_by("axle", made(limited_slip=False), limited_slip=True).limited_slip is False  # … and nothing that it states


FILL, DRAIN, COVER = Plug("fill", "fill plug"), Plug("drain", "drain plug"), Plug("cover", "pan")
ASKED = Requirement("gear")


def box(fill_method, drain_method, *plugs):
    return Sheet("axle", ASKED, 900, fill_method, drain_method, plugs)


def test_what_is_filled_by_amount_needs_a_plug_to_fill_through_too():
    with pytest.raises(Inconsistent, match="no plug to fill through"):
        check_sheet(box("measured", "plug", DRAIN))
    check_sheet(box("measured", "plug", DRAIN, FILL))
    check_sheet(box("measured", "suction"))  # a sheet without plugs says nothing of them


def test_a_cover_is_touched_where_it_comes_off():
    by_plug, by_cover = box("measured", "plug", FILL, DRAIN, COVER), box("measured", "cover", FILL, COVER)
    assert touched_plugs(by_plug, "change") == (FILL, DRAIN)
    assert touched_plugs(by_plug, "opened") == (FILL, DRAIN, COVER)
    assert touched_plugs(by_cover, "change") == (FILL, COVER)
    assert touched_plugs(by_plug, "top-up") == (FILL,)


def test_an_amount_is_doubted_only_beyond_what_the_reading_may_be_wrong_by():
    assert not more_than_it_holds("drained_ml", 1040, 20, 1000)  # 1 040 − 2 × 20 is just what it holds
    assert more_than_it_holds("drained_ml", 1041, 20, 1000)


FULL = Figures(
    family="atf", capacity_ml=3000.0, grade="75W-80", categories="GL-4", hypoid=True, yellow_metal=True, limited_slip=True, fill_method="overflow",
    drain_method="suction", case_material="magnesium", drain_minutes=9.0, warm_up=False, level_note="note", cautions=("hot",), total_ml=9000.0,
    residual_ml=500.0, surplus_ml=120.0, exchange_cycles=3, modifier_ml=70.0, also=("engine",), approvals=("F-1",), base="ester", no_ep=True,
    wet_clutch=True, synchro=True, non_detergent=True, hose="8 mm", window_low_c=30.0, window_high_c=50.0, level_engine="off", selector="N",
    thermostat_c=80.0, below_lip_mm=12.0, flush_ml=30.0, resets=("counter",),
)  # fmt: skip


def test_no_figure_is_lost_on_the_way_to_a_sheet():
    asked = asked_by("hub gear", FULL, edition="1998")
    sheet = sheet_of("hub gear", FULL, asked, (FILL,), number=2, trust={"oil": "verified"})
    shared = {f.name for f in dataclasses.fields(Sheet)} & set(declared())
    assert shared >= {"capacity_ml", "surplus_ml", "hose", "flush_ml", "warm_up", "cautions"}
    assert {name: getattr(sheet, name) for name in shared} == {name: getattr(FULL, name) for name in shared}
    assert (sheet.kind, sheet.requirement, sheet.plugs, sheet.number, sheet.trust) == ("hub gear", asked, (FILL,), 2, {"oil": "verified"})
    level = sheet.level
    assert (level.window_low_c, level.window_high_c, level.engine, level.selector) == (30.0, 50.0, "off", "N")
    assert (level.thermostat_c, level.below_lip_mm) == (80.0, 12.0)
    asks = {f.name for f in dataclasses.fields(Requirement)} & set(declared())
    assert {name: getattr(asked, name) for name in asks} == {name: getattr(FULL, name) for name in asks}
    assert asked.edition == "1998"


def test_a_variant_changes_what_it_says_and_nothing_else():
    variant = Variant("short", "R2", 1700.0, "80W-90", "GL-5", (Head("drain plug", "square", 17.0, 28.0),))
    sheet = sheet_of(
        "axle", made(capacity_ml=1850.0, grade="75W-80", categories="GL-4"), asked_by("axle", made()), (FILL, DRAIN), variants=(variant,)
    )
    short = resolve(sheet, "short")
    assert (short.variant, short.capacity_ml, short.requirement.grade, short.requirement.categories) == ("short", 1700.0, "80W-90", "GL-5")
    assert short.plugs == (FILL, dataclasses.replace(DRAIN, drive="square", size_mm=17.0, torque_nm=28.0))
    bare = resolve(dataclasses.replace(sheet, variants=(Variant("bare"),)), "bare")
    assert (bare.variant, bare.capacity_ml, bare.requirement, bare.plugs) == ("bare", 1850.0, sheet.requirement, sheet.plugs)
    open_one = resolve(sheet, "")
    assert [p.heads for p in open_one.plugs] == [(), variant.heads]
    assert open_one.variant == ""
    with pytest.raises(Inconsistent, match="no variant “long”") as refused:
        resolve(sheet, "long")
    assert refused.value.allowed == "short"


@pytest.mark.parametrize(
    ("kind", "more", "asks"),
    [
        ("axle", {}, False),
        ("axle", {"wet_clutch": True}, True),
        ("automatic", {}, True),
        ("axle", {"limited_slip": True}, False),
        ("axle", {"limited_slip": True, "approvals": ("F-1",)}, True),
        ("axle", {"approvals": ("F-1",)}, False),
    ],
)
def test_the_fluids_of_a_sheet_must_be_claimed_where_linings_run_in_the_oil(kind, more, asks):
    # Common practice, as the judgement page has it: friction linings go by their fluid, gears alone by grade and category.
    assert fluid_rules(kind, **more) is asks
