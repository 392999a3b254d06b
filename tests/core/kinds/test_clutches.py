"""Whether clutches run in an oil, and whether it must claim a fluid. Common practice."""

import pytest

from barodex.core.kinds.kind import KIND_TABLE, clutches_inside, fluid_rules


def test_they_are_those_that_shift_or_hold_by_clutches():
    with_clutches = {"automatic", "dual-clutch", "clutch transfer case", "electronic differential", "marine gearbox"}
    assert {k.name for k in KIND_TABLE if k.clutches} == with_clutches


@pytest.mark.parametrize("kind", [k.name for k in KIND_TABLE if k.clutches])
def test_some_kinds_always_have_clutches(kind):
    assert clutches_inside(kind)
    assert fluid_rules(kind)
    assert fluid_rules(kind, limited_slip=True)


@pytest.mark.parametrize(
    ("wet", "slip", "fluids", "inside", "must"),
    [
        (False, None, (), False, False),
        (False, False, ("F-1",), False, False),
        (False, True, (), True, False),  # an axle oil with friction modifier is right
        (False, True, ("F-1",), True, True),  # its maker names a fluid
        (False, None, ("F-1",), False, False),
        (True, None, (), True, True),
        (True, False, ("F-1",), True, True),
    ],
)
def test_an_axle_has_them_where_its_sheet_or_its_limited_slip_says_so(wet, slip, fluids, inside, must):
    assert clutches_inside("axle", wet, slip) is inside
    assert fluid_rules("axle", wet, slip, fluids) is must
