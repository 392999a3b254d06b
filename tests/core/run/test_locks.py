"""Which steps are open is worked out after each act for those that wait for it alone: the whole guide, asked again, says the same."""

from __future__ import annotations

import copy

import pytest

from barodex.core.run import folding
from barodex.core.run.folding import fold
from tests.core import guides
from tests.core.guides import Walk

SHEETS = {name: value for name, value in vars(guides).items() if name.isupper() and hasattr(value, "fill_method")}


@pytest.mark.parametrize("work", ["", "correction"])
@pytest.mark.parametrize("name", sorted(SHEETS))
def test_the_whole_guide_says_the_same(name, work):
    walk = Walk(SHEETS[name], work=work)
    walk.to("sign")
    for k in range(len(walk.acts) + 1):
        state = fold(walk.made, walk.acts[:k])
        again = copy.deepcopy(state)
        folding._lock(again, walk.made)
        assert again.steps == state.steps, walk.acts[k - 1]
