"""What one act does to the state of a service: amounts, findings, levels, timers, notes, and what each refuses."""

import datetime as dt

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from barodex.core.findings.finding import Particle
from barodex.core.guide.procedure import build
from barodex.core.guide.steps import Conditions, Job
from barodex.core.ledger.drained import Amount, at_reference
from barodex.core.quantity.errors import GateClosed, Inconsistent, NeedsReason, OutOfRange
from barodex.core.quantity.expansion import volume_correction_factor
from barodex.core.run.folding import accept, fold
from barodex.core.run.gaps import refuse_unreasoned
from barodex.core.run.measuring import drained_loss, measured_amount, target_of
from barodex.core.run.seen import finding_from
from barodex.core.run.state import Act
from tests.core.guides import OPENABLE
from tests.core.run.test_run import AT, AXLE, BOX, LOOK, MARINE, Bench, procedure


def job(sheet=BOX, **changes):
    from dataclasses import replace

    return replace(procedure(sheet).jobs[0], **changes)


@pytest.mark.parametrize(
    ("values", "volume", "temperature"),
    [
        ({"pan_ml": 1800, "temperature_c": 20}, 1800, 20),
        ({"pan_ml": 1800, "temperature_c": 45}, 1800, 45),
        ({"pan_ml": 1700, "hose_ml": 60, "rag_ml": 5, "temperature_c": 20}, 1765, 20),
        ({"mass_g": 1760, "temperature_c": 15}, 2000, 15),
    ],  # 1 760 g at 880 kg/m³
)
def test_amounts_are_summed_at_their_temperature(values, volume, temperature):
    amount = measured_amount(job(), values)
    assert amount.volume_ml == pytest.approx(volume)
    assert amount.temperature_c == temperature
    assert amount.sigma_ml == pytest.approx(((0.02 * volume) ** 2 + 400) ** 0.5)  # common practice: 2 % and 20 mL


@pytest.mark.parametrize(
    ("said", "air", "temperature", "sigma_k"),
    [
        ({}, None, 50, 15),  # driven warm, as its sheet wants
        ({"warmth": "hot"}, None, 70, 15),
        ({"warmth": "warm"}, -5, 50, 15),
        ({"warmth": "cold"}, 8, 8, 5),
        ({"warmth": "cold"}, None, 15, 10),
    ],
)
def test_a_temperature_that_was_not_taken_is_never_a_silent_twenty(said, air, temperature, sigma_k):
    # Common practice: hot 70 ± 15 °C, warm 50 ± 15 °C, cold the air ± 5 K.
    amount = measured_amount(job(ambient_c=air), {"pan_ml": 1800, **said})
    assert (amount.temperature_c, amount.temperature_sigma_k) == (temperature, sigma_k)
    at_15 = at_reference(amount, 880.0)
    grown = 1800 * 0.6278 / 880 * sigma_k  # ASTM D1250: α = K1/ρ15
    assert at_15.sigma_ml == pytest.approx(((amount.sigma_ml**2 + grown**2) ** 0.5) * volume_correction_factor(880.0, float(temperature)))
    with pytest.raises(Inconsistent, match="cold, warm, hot"):
        measured_amount(job(), {"pan_ml": 1800, "warmth": "tepid"})


@pytest.mark.parametrize(
    ("values", "error", "words"),
    [
        ({"pan_ml": 0}, OutOfRange, "Nothing came out"),
        ({"pan_ml": 100, "temperature_c": 200}, OutOfRange, "temperature_c"),
        ({"pan_ml": 100, "hose_ml": -5}, OutOfRange, "hose_ml"),
        ({"pan_ml": 100, "rag_ml": 20_000}, OutOfRange, "rag_ml"),
        ({}, Inconsistent, "one of the two"),
    ],
)
def test_an_amount_that_cannot_be_is_refused(values, error, words):
    with pytest.raises(error, match=words):
        measured_amount(job(), values)


def test_suction_is_less_certain_than_a_plug():
    assert measured_amount(job(MARINE), {"pan_ml": 1000}).sigma_ml == 100  # common practice: a tenth


def test_without_an_earlier_fill_there_is_nothing_to_compare():
    assert drained_loss(job(last_net_in=None), Amount(1800, 20, 40)) is None
    loss = drained_loss(job(last_net_in=Amount(1850, 20, 20), distance_km=20_000, share=1.0), Amount(1650, 20, 38))
    assert loss.band == "leak"
    assert loss.per_1000km_ml == pytest.approx(loss.loss_ml / 20)


def test_the_target_is_the_sheets_and_unknown_is_unknown():
    from dataclasses import replace

    assert target_of(job()) == (1850, "sheet revision 1")
    assert target_of(job(replace(BOX, capacity_ml=None)))[0] is None


@pytest.mark.parametrize("reason", [None, "", "   ", "abc", "  x "])
def test_a_reason_is_more_than_a_letter(reason):
    with pytest.raises(NeedsReason, match="Write the reason"):
        refuse_unreasoned({"reason": reason}, "Too much.", "f", 1)


def test_a_written_reason_goes_into_the_gap():
    assert refuse_unreasoned({"reason": " because "}, "Too much.", "f", 1) == "Too much. Reason: because"


def test_a_finding_comes_from_plain_values():
    found = finding_from({"magnet": "cap", "particles": [{"form": "chip", "size_mm": 3}], "colour": "brown"})
    assert found.particles == (Particle("chip", "steel", 1, 3.0),)
    assert (found.magnet, found.clarity) == ("cap", None)
    assert finding_from({"particles": []}).particles == ()
    assert finding_from({}).particles is None


@pytest.mark.parametrize(
    "values",
    [
        {"particles": "many"},
        {"particles": [{"metal": "steel"}]},
        {"particles": [{"form": "chip", "size_mm": "big"}]},
        {"particles": [3]},
        "cap",
    ],
)
def test_what_is_not_a_finding_is_said(values):
    with pytest.raises(Inconsistent, match="not a finding"):
        finding_from(values)


def test_more_cannot_run_out_than_was_poured():
    bench = Bench(procedure()).until("level.")
    with pytest.raises(OutOfRange, match="More ran out"):
        bench.do("level.0", run_out_ml=5000.0)
    bench.do("level.0", run_out_ml=60.0)
    assert bench.state.ledgers["0"].run_out_ml == 60


def test_a_level_is_one_of_what_can_be_seen():
    bench = Bench(procedure()).until("level.")
    with pytest.raises(Inconsistent, match="not one of"):
        bench.do("level.0", outcome="looks about right")
    with pytest.raises(Inconsistent, match="say what it is"):
        bench.do("level.0", outcome="")


@pytest.mark.parametrize("volume", [None, 0, -5.0, 70_000.0])
def test_a_pour_is_an_amount(volume):
    bench = Bench(procedure()).until("pour")
    with pytest.raises(OutOfRange):
        bench.post("add", "pour.0", volume_ml=volume)


def test_only_a_pour_is_added_up_and_only_known_acts_are_done():
    bench = Bench(procedure()).until("measure")
    with pytest.raises(Inconsistent, match="Only a pour"):
        bench.post("add", "measure.0", volume_ml=5.0)
    with pytest.raises(Inconsistent, match="No act"):
        bench.post("explode", "measure.0")
    with pytest.raises(Inconsistent, match="no step"):
        bench.post("done", "dance.0")


def test_a_step_done_is_not_done_again():
    bench = Bench(procedure()).until("prove")
    with pytest.raises(GateClosed, match="done already"):
        bench.do("ready")


def test_an_old_seal_needs_its_reason():
    bench = Bench(procedure()).until("shut")
    with pytest.raises(NeedsReason, match="seal was not renewed"):
        bench.do("shut.0", seal_renewed=False)
    bench.do("shut.0", seal_renewed=False, reason="none on the island")
    assert bench.state.gaps == [("shut.0", "Box 0, drain plug: the seal was not renewed. Reason: none on the island")]


def test_a_gap_that_is_mended_leaves_the_report():
    bench = Bench(procedure()).until("measure")
    bench.do("measure.0", pan_ml=2400.0, reason="overfilled before")
    assert len(bench.state.gaps) == 1
    bench.do("measure.0", pan_ml=1800.0)
    assert bench.state.gaps == []


def test_a_second_look_replaces_the_first_and_can_bring_a_stop():
    bench = Bench(procedure()).until("drive")
    worse = {**LOOK, "particles": [{"form": "part", "metal": "steel", "count": 1, "size_mm": 5}]}
    state = bench.post("done", "look.0", finding=worse)
    assert state.stopped
    assert state.steps["drive"].status == "off"
    assert state.steps["stop"].status == "open"


def test_notes_are_kept_in_order_and_lock_nothing():
    bench = Bench(procedure())
    for text in ("one", "two"):
        bench.post("note", "", text=text)
    assert [n.values["text"] for n in bench.state.notes] == ["one", "two"]
    assert bench.state.current == "ready"


def test_a_step_that_is_settled_stops_its_timer():
    bench = Bench(procedure()).until("measure")
    bench.post("timer_start", "measure.0")
    assert bench.do("measure.0").steps["measure.0"].timer_stopped == AT


def test_a_refused_act_changes_nothing():
    bench = Bench(procedure()).until("shut")
    before = fold(bench.procedure, bench.acts)
    with pytest.raises(GateClosed):
        accept(bench.procedure, bench.acts, Act("x", 999, "done", "sign", {}, AT))
    assert fold(bench.procedure, bench.acts) == before


def test_an_event_that_no_longer_fits_comes_back_with_its_reason():
    made = procedure()
    early = Act("a", 1, "done", "drain.0", {}, AT)
    state = fold(made, [early, Act("b", 2, "done", "ready", {"ticked": list(made.by_id["ready"].checklist)}, AT)])
    assert [(c.act.id, type(c.error)) for c in state.conflicts] == [("a", GateClosed)]
    assert state.steps["ready"].status == "done"


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(1, 900), min_size=1, max_size=6), st.data())
def test_pours_add_up_whatever_is_undone(amounts, data):
    bench = Bench(procedure(AXLE)).until("pour")
    for amount in amounts:
        bench.post("add", "pour.0", volume_ml=amount)
    pours = [e for e in bench.acts if e.kind == "add"]
    undone = data.draw(st.sets(st.sampled_from(range(len(amounts)))))
    for k in undone:
        bench.post("undo", "", act=pours[k].id)
    assert bench.state.ledgers["0"].poured_ml == pytest.approx(sum(a for k, a in enumerate(amounts) if k not in undone))


def test_times_are_the_servers():
    assert dt.timedelta(0) == AT.utcoffset()


def test_what_is_said_not_to_be_so_stops_a_gate_and_is_a_gap_with_its_reason_elsewhere():
    bench = Bench(procedure()).until("kit")
    first, *rest = bench.procedure.by_id["kit"].checklist
    with pytest.raises(GateClosed, match="Not so yet: "):
        bench.do("kit", ticked=rest, not_so=[first])
    opened = Bench(build((Job("0", "Box 0", OPENABLE, "the oil", work="opened"),), Conditions("the vehicle", "car"))).until("filter")
    magnets, *others = opened.procedure.by_id["filter.0"].checklist
    with pytest.raises(NeedsReason, match="not so: Magnets"):
        opened.do("filter.0", ticked=others, not_so=[magnets])
    opened.do("filter.0", ticked=others, not_so=[magnets], reason="no cloth left")
    assert opened.state.gaps == [("filter.0", "Box 0: filter, magnets, faces: not so: Magnets read and wiped. Reason: no cloth left")]
    assert opened.state.steps["filter.0"].status == "done"
