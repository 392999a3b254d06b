"""Messages: text with its code and parameters, kept by these and worded again; what looks like one and is none stays what it is."""

import copy
import json
import pickle

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from barodex.core.words import Message, kept, said, say


def test_a_message_is_text_and_knows_what_it_was_made_of():
    made = say("{name} holds {content:.1f} L, not {asked}.", name="Light", content=1.04, asked="2 L")
    assert made == "Light holds 1.0 L, not 2 L."
    assert isinstance(made, Message)
    assert (made.code, dict(made.params)) == (
        "{name} holds {content:.1f} L, not {asked}.",
        {"name": "Light", "content": 1.04, "asked": "2 L"},
    )
    assert json.dumps(made) == '"Light holds 1.0 L, not 2 L."'
    assert {made: 1}["Light holds 1.0 L, not 2 L."] == 1


@pytest.mark.parametrize("again", [str, copy.copy, copy.deepcopy, lambda m: pickle.loads(pickle.dumps(m))])
def test_it_stays_a_message_where_text_is_handed_on(again):
    made = again(say("{n} pans", n=3))
    assert (made, made.code, dict(made.params)) == ("3 pans", "{n} pans", {"n": 3})


def test_braces_stand_in_what_takes_no_parameters_and_missing_ones_show():
    assert say("a {brace} stays") == "a {brace} stays"
    with pytest.raises(KeyError):
        say("{a} and {b}", a=1)


@given(
    st.recursive(
        st.one_of(
            st.text(),
            st.integers(-9, 9),
            st.builds(lambda n, w: say("{n} of {w}", n=n, w=w), st.integers(), st.text()),
            st.builds(lambda n: say("so: {inner}", inner=say("{n} mL", n=n)), st.integers()),
        ),
        lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(st.text(max_size=3), inner, max_size=3)),
        max_leaves=6,
    )
)
def test_what_is_kept_and_read_back_says_the_same_and_knows_its_codes(value):
    stored = json.loads(json.dumps(kept(value)))
    again = said(stored)
    assert again == value
    assert json.loads(json.dumps(kept(again))) == stored


@pytest.mark.parametrize("odd", [10**30, -(2**60), float("inf"), float("nan"), np.float64("nan")])
def test_a_number_that_json_cannot_hold_is_kept_as_its_text(odd):
    """RFC 8259, section 6: no NaN, no infinity; integers agree between readers up to 2⁵³."""
    stored = kept(say("{n} mL", n=odd))
    assert stored["with"]["n"] == str(odd)
    json.loads(json.dumps(stored, allow_nan=False))


@pytest.mark.parametrize("odd", [float("nan"), float("inf"), 10**30])
def test_what_could_not_be_worded_again_is_kept_as_it_was_written(odd):
    made = say("{n:.1f} mL", n=odd)
    assert kept(made) == made
    assert type(kept(made)) is str
    assert said(json.loads(json.dumps(kept([made])))) == [made]


def test_a_number_of_numpy_is_a_number():
    stored = kept(say("{n} and {x}", n=np.int64(7), x=np.float64(0.5)))
    assert json.dumps(stored["with"]) == '{"n": 7, "x": 0.5}'


def test_parameters_that_are_no_numbers_and_no_text_are_kept_as_their_text():
    import datetime as dt

    stored = kept([say("since {on}", on=dt.date(2026, 5, 1))])
    assert stored == [{"say": "since {on}", "with": {"on": "2026-05-01"}}]
    assert said(stored) == ["since 2026-05-01"]


@pytest.mark.parametrize(
    "odd",
    [
        {"say": "{a.__class__}", "with": {"a": "x"}},
        {"say": "{a[0]}", "with": {"a": "x"}},
        {"say": "{a:{b.__class__}}", "with": {"a": "x", "b": "y"}},
        {"say": "{a:99999999999d}", "with": {"a": "x"}},
        {"say": "{a", "with": {"a": "x"}},
        {"say": "{a:99999999}", "with": {"a": "x"}},
        {"say": "{b}", "with": {"a": "x"}},
        {"say": 3},
        {"say": "a", "with": ["b"]},
        {"say": "a", "with": {}, "more": 1},
    ],
)
def test_what_only_looks_like_a_message_stays_what_it_is(odd):
    """A stored value that somebody wrote by hand reaches into nothing."""
    assert said(odd) == odd


def test_rows_from_before_stay_as_they_were_written():
    assert said(["Seal not renewed", {"reason": "none at hand"}]) == ["Seal not renewed", {"reason": "none at hand"}]


def test_pieces_that_are_put_together_keep_their_codes():
    both = say("{n} mL are missing.", n=30) + " " + say("Look again.")
    assert both == "30 mL are missing. Look again."
    assert isinstance("So: " + both, Message)
    stored = kept(both)
    assert '"{n} mL are missing."' in json.dumps(stored)
    assert '"Look again."' in json.dumps(stored)
    assert said(json.loads(json.dumps(stored))) == both
    assert say("as it is") + "" is say("as it is")
