"""Forecast and due dates against statsmodels, dateutil, the time-zone database and simulation."""

import datetime as dt
import zoneinfo

import numpy as np
import pytest
import statsmodels.api as sm
from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st

from barodex import clock
from barodex.core.due.ahead import Ahead, Rate, Spread
from barodex.core.due.interval import Limits, due_date, next_due
from barodex.core.due.pace import Legs, weighted_rates

TODAY = dt.date(2026, 6, 15)


@pytest.mark.parametrize("half_life", [30.0, 120.0, 1000.0])
@pytest.mark.parametrize("seed", range(4))
def test_the_rate_and_its_error_as_statsmodels_has_them(half_life, seed):
    # What each leg ran on its days, through the origin; the variance of a leg grows with its days, and its weight halves with age.
    rng = np.random.default_rng(seed)
    days = np.sort(rng.choice(1400, 24, replace=False)).astype(float)
    totals = 35 * (days - days[0]) + np.cumsum(rng.normal(0, 120, 24))
    legs, middle = np.diff(days), (days[1:] + days[:-1]) / 2
    weights = np.exp2(np.maximum((middle - days[-1]) / half_life, -10))
    rates, worth = weighted_rates(Legs(days, days - days[0], totals - totals[0], np.array([0])), half_life)
    fit = sm.WLS(np.diff(totals), legs, weights=weights / legs).fit()
    assert rates[0] == pytest.approx(fit.params[0], rel=1e-9)
    # Of a walk of variance 1 a day the sandwich's exact middle is Σw²·days over (Σw·days)²: one over what the rate is worth.
    bread = 1 / (weights * legs).sum()
    assert 1 / worth[0] == pytest.approx(bread**2 * (weights**2 * legs).sum(), rel=1e-9)


def simulated_days(run, rate, spread, rng, draws=4000, days=2000):
    """Days until so much is run, by walks of a rate that is drawn and then moves, each day by noise of its own."""
    drawn = rate * np.exp(rng.normal(0, spread.rate**0.5, draws))
    total, passed = np.zeros(draws), np.full(draws, np.nan)
    for day in range(1, days):
        total += drawn + rate * rng.normal(0, spread.noise**0.5, draws)
        done = np.isnan(passed) & (total >= run)
        passed[done] = day
    return passed


@pytest.mark.parametrize("noise", [0.0, 1.0, 5.0])
def test_due_quantiles_as_a_simulation_of_use_gives_them(noise):
    spread = Spread(0.02, noise)
    due = next_due(
        legs={"road": 12_000},
        hours=None,
        since=TODAY - dt.timedelta(days=300),
        as_of=TODAY,
        limits=Limits({"road": 40_000}),
        split={"road": 1.0},
        ahead_km=Ahead(Rate(40.0, 40.0, 40.0), TODAY, spread=spread),
        meter_km=50_000,
    )
    days = simulated_days(28_000, 40.0, spread, np.random.default_rng(3))
    for quantile, on in ((10, due.earliest), (50, due.on), (90, due.latest)):
        assert (on - TODAY).days == pytest.approx(np.nanpercentile(days, quantile), rel=0.02)


def test_the_band_without_readings_as_a_simulation_gives_it():
    # The last reading lies 60 days back: since then each drawn rate has run already.
    since, spread = TODAY - dt.timedelta(days=60), Spread(0.04, 1.5)
    days = simulated_days(10_000, 40.0, spread, np.random.default_rng(4))
    for quantile, on in zip((10, 50, 90), Ahead(Rate(40.0, 40.0, 40.0), since, spread=spread).date_at(10_000), strict=True):
        assert (on - since).days == pytest.approx(np.percentile(days, quantile), rel=0.02)


@given(st.dates(dt.date(1990, 1, 1), dt.date(2040, 12, 31)), st.integers(1, 240))
def test_due_dates_by_time_as_dateutil_has_them(start, months):
    assert due_date(start, months) == start + relativedelta(months=months)


@pytest.mark.parametrize(
    ("zone", "moment"),
    [
        ("Europe/London", dt.datetime(2027, 3, 28, 0, 59, tzinfo=dt.UTC)),  # a minute before the clocks go forward
        ("Europe/London", dt.datetime(2026, 10, 25, 0, 59, tzinfo=dt.UTC)),
        ("Pacific/Auckland", dt.datetime(2026, 9, 26, 14, 0, tzinfo=dt.UTC)),
        ("America/St_Johns", dt.datetime(2026, 3, 8, 5, 31, tzinfo=dt.UTC)),
    ],
)
@pytest.mark.parametrize("hours", [0, 1, 2, 23, 24, 25])
def test_today_and_the_days_ahead_do_not_slip_when_the_clocks_change(settings, zone, moment, hours):
    from django.utils import timezone

    settings.TIME_ZONE = zone
    with timezone.override(zone):
        now = moment + dt.timedelta(hours=hours)
        local = now.astimezone(zoneinfo.ZoneInfo(zone)).date()
        with clock.at(now):
            assert clock.today() == local
            # Days are counted by the calendar, never by hours: 30 days of use are 30 dates on.
            assert Ahead(Rate(10, 10, 10), clock.today()).date_at(300)[1] == local + dt.timedelta(days=30)
