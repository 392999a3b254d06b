"""A guide that is kept reads as it was built, for every kind; a variant that is taken over changes what steps say, not which there are."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.guide.stored import guide_to_keep, kept_guide
from barodex.core.quantity.errors import Inconsistent
from barodex.core.sheet.sheet import Head, Variant, resolve
from tests.core import guides

AIR = Conditions("Van", "van", 7.5)
SHEETS = {name: value for name, value in vars(guides).items() if name.isupper() and hasattr(value, "fill_method")}


def through_json(jobs):
    return json.loads(json.dumps(guide_to_keep(jobs, AIR)))


@pytest.mark.parametrize("name", sorted(SHEETS))
def test_it_reads_as_it_was_built(name):
    jobs = (Job("4", "Box", SHEETS[name], "Plain oil", 871.0, doses=()), Job("9", "Rear axle", guides.BOX, "Axle oil", ambient_c=-3.0))
    assert kept_guide(through_json(jobs)) == build(jobs, AIR)


def with_variants(sheet, **changes):
    small, large = Variant("small", "S 1", 1700.0, heads=(Head("drain plug", "hex head", 17.0, 60.0),)), Variant("large", "L 1", 2400.0)
    return resolve(replace(sheet, variants=(small, large), **changes), "")


@pytest.mark.parametrize("sheet", [guides.BOX, guides.AUTOMATIC, guides.CLUTCH_CASE, guides.TRUCK], ids=lambda s: s.kind)
def test_a_variant_taken_over_gives_the_guide_of_that_variant(sheet):
    open_one = with_variants(sheet)
    jobs = tuple(Job(key, key, open_one, "Oil", open_sheet=open_one) for key in ("4", "9"))
    plain = replace(open_one, plugs=sheet.plugs)
    known = (replace(jobs[0], sheet=resolve(plain, "small")), replace(jobs[1], sheet=resolve(plain, "large")))
    kept = through_json(jobs)
    taken = kept_guide(kept, (("4", "small"), ("9", "large")))
    assert taken.job("4").sheet.capacity_ml == 1700.0
    begun, wanted = kept_guide(kept), build(known, AIR)
    assert [s for s in taken.steps if s.compartment] == [s for s in wanted.steps if s.compartment]
    assert [s for s in taken.steps if not s.compartment] == [s for s in begun.steps if not s.compartment]
    assert [s.id for s in taken.steps] == [s.id for s in kept_guide(kept).steps]
    assert kept_guide(kept, (("4", "small"),)).job("9").sheet == open_one


def test_a_variant_that_the_guide_does_not_know_is_refused():
    kept = through_json((Job("4", "Box", guides.BOX, "Oil"),))
    with pytest.raises(Inconsistent, match="lists no variant “small”"):
        kept_guide(kept, (("4", "small"),))
