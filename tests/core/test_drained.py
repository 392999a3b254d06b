"""Losses from fill to drain. Bands are common practice."""

import pytest

from barodex.core.drained import Amount, drained_sigma_ml, loss_band, loss_since_last_fill
from barodex.core.errors import OutOfRange


def test_hot_is_compared_with_cold_at_one_temperature():
    # 1 850 mL poured at 20 °C, 1 880 mL drained at 45 °C: a tight box, although more seems to come out.
    loss = loss_since_last_fill(Amount(1850, 20, 20), (), Amount(1880, 45, 42), 1850)
    assert loss.band == "tight"
    assert not loss.told_from_zero
    assert abs(loss.loss_ml) < 20


def test_topups_count_as_put_in():
    loss = loss_since_last_fill(Amount(2000, 15, 10), [Amount(300, 15, 10)], Amount(2000, 15, 10), 2000)
    assert loss.loss_ml == pytest.approx(300)


@pytest.mark.parametrize(("loss", "band"), [(10, "tight"), (80, "weep"), (150, "leak"), (400, "repair"), (-200, "tight")])
def test_bands(loss, band):
    assert loss_band(loss, 20, 2000) == band


def test_more_out_than_in_is_said():
    assert "More came out" in loss_since_last_fill(Amount(1500, 15, 10), (), Amount(2000, 15, 10), 2000).text


def test_sigma_by_method():
    assert drained_sigma_ml(1000, "plug") == pytest.approx((20**2 + 20**2) ** 0.5)
    assert drained_sigma_ml(1000, "suction") == 100
    assert drained_sigma_ml(150, "syringe") == 5
    with pytest.raises(OutOfRange):
        loss_band(1, 1, 0)
