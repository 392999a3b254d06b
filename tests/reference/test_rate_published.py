"""The rate of a loss where a share stays inside, against generalized least squares of statsmodels."""

import numpy as np
import pytest
import statsmodels.api as sm

from barodex.core.ledger.leak import LossPoint, loss_rate, stays_learnt


@pytest.mark.parametrize("seed", range(4))
def test_the_rate_is_that_of_generalized_least_squares(seed):
    """statsmodels GLS with the same covariance, its scale held at one: an independent implementation (Aitken, 1935)."""
    rng = np.random.default_rng(seed)
    runs, lost, sigma = rng.uniform(8_000, 30_000, 6), rng.normal(120, 200, 6), rng.uniform(40, 90, 6)
    shared = rng.uniform(5, 20, 6)
    points = [LossPoint(r, y, s, c, 250.0, k not in (0, 3)) for k, (r, y, s, c) in enumerate(zip(runs, lost, sigma, shared, strict=True))]
    stays = stays_learnt(points) ** 2
    cov = np.diag(sigma**2 - shared**2 + 2 * stays) + np.outer(shared, shared)
    for k in (1, 2, 4, 5):
        cov[k, k - 1] = cov[k - 1, k] = cov[k, k - 1] - stays
    fit = sm.GLS(lost, runs / 1000, sigma=cov).fit()
    told = loss_rate(points)
    assert told.rate == pytest.approx(fit.params[0], rel=1e-9)
    assert told.sigma == pytest.approx(fit.bse[0] / fit.scale**0.5, rel=1e-9)
