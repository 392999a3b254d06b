"""Pictures of viscosity and grades, variants of a sheet, figures that are questioned. Places are checked against the axes' definition."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.oil.charts import line_points, place_kv, place_t, scales, viscosity_chart
from barodex.core.oil.grades import Grade, kv40_band, parse_grade, table
from barodex.core.oil.lubricant import Dose, Requirement
from barodex.core.oil.viscosity import Thickness, thickness_of_grade
from barodex.core.quantity.errors import Inconsistent, OutOfRange, Unreadable
from barodex.core.sheet.checked import check_sheet
from barodex.core.sheet.plausible import doubts
from barodex.core.sheet.sheet import CasingMark, Head, Plug, Sheet, Variant, candidates_ml, resolve

OIL = Thickness(100, 14, False, "data sheet")


def test_the_ends_of_the_axes():
    assert place_t(-40) == pytest.approx(0)
    assert place_t(120) == pytest.approx(1)
    assert place_kv(3) == pytest.approx(0)
    assert place_kv(1e5) == pytest.approx(1)


def test_the_axes_are_those_of_astm_d341():
    # Abscissa log10 T in kelvin, ordinate log10 log10(ν + 0.7); worked separately for 40 °C and 100 mm²/s.
    t = (math.log10(313.15) - math.log10(233.15)) / (math.log10(393.15) - math.log10(233.15))
    low, high, v = (math.log10(math.log10(x + 0.7)) for x in (3, 1e5, 100))
    assert place_t(40) == pytest.approx(t)
    assert place_kv(100) == pytest.approx((v - low) / (high - low))


@given(st.floats(20, 500), st.floats(0.08, 0.25))
def test_any_oil_is_a_straight_line(kv40, share):
    points = line_points(Thickness(kv40, max(3.0, kv40 * share), False, ""), [-20, 0, 40, 80, 100])
    a, b = points[0], points[-1]
    for p in points:
        assert (p.y - a.y) * (b.x - a.x) == pytest.approx((b.y - a.y) * (p.x - a.x), abs=1e-9)


def test_a_line_ends_where_the_standard_does():
    thin = line_points(Thickness(8.0, 2.3, False, ""), [40.0, 100.0, 120.0])
    assert [p.temperature_c for p in thin] == [40.0, 100.0]  # below 2 mm²/s nothing is drawn


def test_the_chart_holds_four_oils_a_band_and_the_weather():
    chart = viscosity_chart([("a", OIL), ("b", OIL)], parse_grade("75W-90"), -15, 30)
    assert chart.band
    assert [p.temperature_c for p in chart.lines[0].shown] == [-20, 0, 40, 80, 100]
    hot = next(p for p in chart.band.thin if abs(p.temperature_c - 100) < 3)
    assert hot.kv == pytest.approx(13.5, rel=0.1)  # SAE J306: 90 begins at 13.5 mm²/s at 100 °C
    assert chart.ambient == pytest.approx((place_t(-15), place_t(30)))
    assert viscosity_chart([], None).band is None
    with pytest.raises(OutOfRange, match="oils"):
        viscosity_chart([("a", OIL)] * 5)
    with pytest.raises(Inconsistent, match="cannot be warmer"):
        viscosity_chart([], None, 20, 0)
    with pytest.raises(Unreadable, match="No band"):
        viscosity_chart([], Grade("engine", "", ""))


def test_an_industrial_band_is_ten_per_cent_to_either_side():
    # ISO 3448: mid-point ±10 % at 40 °C.
    band = viscosity_chart([], parse_grade("ISO VG 100")).band
    assert band
    at40 = [next(p.kv for p in side if p.temperature_c == 40) for side in (band.thin, band.thick)]
    assert at40 == pytest.approx(kv40_band(parse_grade("ISO VG 100")))


def test_the_three_scales_stand_on_one_axis():
    shown = {s.name: {b.name: b for b in s.bands} for s in scales().scales}
    engine, gear = shown["engine"]["SAE 30"], shown["gear"]
    assert gear["SAE 80"].bottom < engine.bottom < gear["SAE 80"].top < engine.top < gear["SAE 85"].top  # 30 is not 30
    assert gear["SAE 250"].high is None
    assert gear["SAE 250"].top == 1
    assert shown["industrial"]["VG 100"].low < shown["industrial"]["VG 100"].high
    for bands in shown.values():
        for band in bands.values():
            assert 0 <= band.bottom < band.top <= 1
    assert "from memory" in scales("2019").scales[0].standard


@pytest.mark.parametrize("scale", ["gear", "engine", "industrial"])
def test_the_tables_have_the_shape_of_a_published_table(scale):
    for edition in ("2005", "2019"):
        published = table(scale, edition)
        assert published["title"]
        assert published["edition"]
        assert published["units"]
        lows = [row if isinstance(row, (int, float)) else row[0] for row in published["grades"].values()]
        assert lows == sorted(lows)


def test_every_grade_of_every_scale_can_be_estimated():
    for scale in ("gear", "engine", "industrial"):
        for name in table(scale)["grades"]:
            if scale == "industrial" and float(name) < 10:
                continue  # too thin for the index's reference oils
            made = thickness_of_grade(Grade(scale, "", name))
            assert made.kv100 < made.kv40
            assert made.estimated


# --- variants --------------------------------------------------------------------------------------------------------

PLUGS = (Plug("fill", "fill plug", "hex socket", 10, "crush washer", 40), Plug("drain", "drain plug", "hex head", 22, "crush washer", 35))
SHORT = Variant("short", "R2", 2300)
LONG = Variant("long", "R1", 2700, "75W-90", heads=(Head("drain plug", "square", 17, 28),))
BOX = Sheet(
    "transaxle",
    Requirement("gear", "75W-80", "GL-4"),
    2300,
    "to the lip",
    "plug",
    PLUGS,
    variants=(SHORT, LONG),
    casing_marks=(CasingMark("pad", "R1 or R2"),),
)


def test_a_known_variant_brings_its_own_capacity_oil_and_torque():
    long = resolve(BOX, "long")
    assert (long.capacity_ml, long.requirement.grade, long.requirement.categories) == (2700, "75W-90", "GL-4")
    assert [(p.drive, p.torque_nm) for p in long.plugs] == [("hex socket", 40), ("square", 28)]
    assert candidates_ml(long) == ()
    with pytest.raises(Inconsistent, match="lists no variant"):
        resolve(BOX, "tall")


def test_an_open_variant_keeps_every_candidate_and_every_head():
    still_open = resolve(BOX, "")
    assert candidates_ml(still_open) == (2300, 2700)
    assert [h.torque_nm for h in still_open.plugs[1].heads] == [35, 28]  # the sheet's own, and the long one's
    assert still_open.plugs[0].heads == ()


@pytest.mark.parametrize(
    ("sheet", "field"),
    [
        (Sheet("axle", BOX.requirement, 900, "to the lip", "plug", PLUGS, variants=(Variant(" "),)), "variants.0.name"),
        (
            Sheet("axle", BOX.requirement, 900, "to the lip", "plug", PLUGS, variants=(Variant("a", capacity_ml=1),)),
            "variants.0.capacity_ml",
        ),
        (
            Sheet("axle", BOX.requirement, 900, "to the lip", "plug", PLUGS, variants=(Variant("a", heads=(Head("x"),)),)),
            "variants.0.heads.0.plug",
        ),
        (Sheet("axle", BOX.requirement, 900, "to the lip", "plug", PLUGS, casing_marks=(CasingMark(" "),)), "casing_marks.0.where"),
        (Sheet("axle", BOX.requirement, 900, "to the lip", "plug", (*PLUGS, Plug("level", "l", torque_nm=-3))), "plugs.2.torque_nm"),
    ],
)
def test_a_sheet_that_cannot_be_is_refused_at_its_field(sheet, field):
    with pytest.raises((Inconsistent, OutOfRange)) as refused:
        check_sheet(sheet)
    assert refused.value.field == field


def steps(sheet, **more):
    made = build((Job("0", "Box", sheet, "the oil", **more),), Conditions("the van", "van"))
    return made.by_id


def test_the_guide_of_an_open_variant_says_what_to_read_and_which_torque_goes_with_which_head():
    made = steps(resolve(BOX, ""))
    assert any("Variant open: long, marked R1" in c for c in made["ready"].advice)
    assert any("Casing, pad: R1 or R2" in c for c in made["ready"].advice)
    assert any("17 mm square" in a and "28" in a for a in made["shut.0"].advice)
    assert not any("Variant open" in c for c in steps(resolve(BOX, "long"))["ready"].advice)


def test_the_guide_of_a_dose_and_of_a_rinse():
    made = steps(BOX, doses=(Dose("Moly", "solid lubricant", 60),), rinse="200 mL of atf oil stay inside")
    assert "First 60 mL of Moly" in made["pour.0"].advice[0]
    assert "rinse.0" in made["oil.0"].needs
    assert "rinse.0" in made["pour.0"].needs
    assert made["rinse.0"].gate
    assert "rinse.0" in made["shut.0"].needs
    assert "rinse.0" not in steps(BOX)


# --- plausible -------------------------------------------------------------------------------------------------------


def test_what_is_unusual_is_questioned_and_what_is_usual_is_not():
    assert doubts(BOX, 80_000, 60) == ()
    odd = Sheet("hub gear", BOX.requirement, 2000, "measured", "suction", (Plug("fill", "f", "hex socket", 50, torque_nm=400),))
    assert {d.field for d in doubts(odd, 900_000, 1)} == {
        "capacity_ml",
        "plugs.0.torque_nm",
        "plugs.0.size_mm",
        "interval_km",
        "interval_months",
    }
    assert all(d.usual for d in doubts(odd, 900_000, 1))
    wide = Sheet("transaxle", BOX.requirement, 2300, "to the lip", "plug", PLUGS, variants=(Variant("huge", capacity_ml=30_000),))
    assert [d.field for d in doubts(wide)] == ["variants.0.capacity_ml"]
