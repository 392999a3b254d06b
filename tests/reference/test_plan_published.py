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
from barodex.core.due.interval import Ahead, Limits, Rate, due_date, next_due
from barodex.core.due.meter import MeterReading
from barodex.core.due.use import P10, forecast, weighted_slopes

TODAY = dt.date(2026, 6, 15)


@pytest.mark.parametrize("half_life", [30.0, 120.0, 1000.0])
@pytest.mark.parametrize("seed", range(4))
def test_slope_and_error_as_statsmodels_has_them(half_life, seed):
    # statsmodels WLS with HC1, White's sandwich with n/(n-2).
    rng = np.random.default_rng(seed)
    ages = -np.sort(rng.choice(1400, 24, replace=False))[::-1].astype(float)
    totals = 30_000 + 35 * (ages - ages[0]) + np.cumsum(rng.normal(0, 120, 24))
    slopes, errors = weighted_slopes(ages, ages, totals, np.array([0]), half_life)
    fit = sm.WLS(totals, sm.add_constant(ages), weights=np.exp2(ages / half_life)).fit(cov_type="HC1")
    assert slopes[0] == pytest.approx(fit.params[1], rel=1e-9)
    assert errors[0] == pytest.approx(fit.bse[1], rel=1e-9)


def test_the_forecast_s_band_is_that_of_the_fit():
    rng = np.random.default_rng(11)
    ages = np.array([-500, -420, -330, -260, -170, -90, -40, 0.0])
    totals = np.round(52_000 + 30 * ages + rng.normal(0, 900, 8))
    totals = np.maximum.accumulate(totals)
    readings = [MeterReading(TODAY + dt.timedelta(days=int(a)), t) for a, t in zip(ages, totals, strict=True)]
    fit = sm.WLS(totals, sm.add_constant(ages), weights=np.exp2(ages / 120)).fit(cov_type="HC1")
    found = forecast(readings, TODAY, "car")
    assert found.in_use.per_day == pytest.approx(fit.params[1])
    assert found.in_use.high - found.in_use.per_day == pytest.approx(max(P10 * fit.bse[1], 0.1 * fit.params[1]))


def test_due_quantiles_as_a_simulation_of_the_rate_gives_them():
    # A normal rate of which P10 and P90 are the band: a hundred thousand draws, each with its own due day.
    rng = np.random.default_rng(3)
    rate = Rate(40.0, 40 - 8 * P10, 40 + 8 * P10)
    due = next_due(
        legs={"road": 12_000},
        hours=None,
        since=TODAY - dt.timedelta(days=300),
        as_of=TODAY,
        limits=Limits({"road": 40_000}),
        split={"road": 1.0},
        ahead_km=Ahead(rate, TODAY),
        meter_km=50_000,
    )
    draws = rng.normal(40, 8, 100_000)
    days = 28_000 / draws[draws > 1]
    for quantile, on in ((10, due.earliest), (50, due.on), (90, due.latest)):
        assert (on - TODAY).days == pytest.approx(np.percentile(days, quantile), rel=0.01)


def test_the_band_without_readings_as_a_simulation_gives_it():
    # The last reading lies 60 days back: since then each drawn rate has run already.
    rng = np.random.default_rng(4)
    since = TODAY - dt.timedelta(days=60)
    rate = Rate(40.0, 40 - 8 * P10, 40 + 8 * P10)
    days = 10_000 / np.clip(rng.normal(40, 8, 100_000), 1, None)
    for quantile, on in zip((10, 50, 90), Ahead(rate, since).date_at(10_000), strict=True):
        assert (on - since).days == pytest.approx(np.percentile(days, quantile), rel=0.01)


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
