"""The sums of oil over HTTP: worked examples by hand, and what is refused."""

import pytest


def post(api, name, body, expect=200):
    return api.viewer.post(f"/api/bench/{name}", body, expect)


def test_dips_plan_the_next_pour(api):
    # 500 mL for 20 mm: 25 mL a millimetre; 40 mm short is a litre, four fifths of it next. By hand.
    dips = [{"added_ml": "0", "reading_mm": "0"}, {"added_ml": "0.5 L", "reading_mm": "20 mm"}]
    plan = post(api, "dip", {"dips": dips, "target_mm": "60"})
    assert (plan["ml_per_mm"], plan["next_pour_ml"]) == pytest.approx((25, 800))
    assert "Dip once" in post(api, "dip", {"dips": [], "target_mm": "60"}, 422)["detail"]
    falling = [{"added_ml": "500", "reading_mm": "20"}, {"added_ml": "400", "reading_mm": "30"}]
    assert "cannot become less" in post(api, "dip", {"dips": falling, "target_mm": "60"}, 422)["detail"]


def test_a_lifted_end_and_the_plug(api):
    body = {"lift_mm": "100", "wheelbase_mm": "2.7 m", "length_mm": "300", "width_mm": "200", "offset_mm": "120"}
    made = post(api, "tilt", body)
    assert made["tilt_deg"] == pytest.approx(2.1226, abs=1e-3)  # arcsin(100 / 2700)
    assert made["error_ml"] == pytest.approx(266.9, abs=0.2)  # 60 000 × 120 × tan 2.1226° / 1000
    assert "wheelbase" in post(api, "tilt", {**body, "wheelbase_mm": "20"}, 422)["detail"]


def test_both_schools_of_exchange(api):
    # Half each time: 50, 75 %. Flow-through to 75 % of 8 L: 8 · ln 4 = 11.09 L. By hand.
    made = post(api, "exchange", {"total_ml": "8 L", "drained_ml": "4 L", "target": 0.7, "litre_price": 10})
    assert (made["cycles"], made["cycles_fresh"], made["fresh_one_less"], made["cycles_cost"]) == (2, 0.75, 0.5, 80)
    assert post(api, "exchange", {"total_ml": "8 L", "drained_ml": "4 L", "target": 0.75})["flow_oil_ml"] == pytest.approx(11_090, abs=1)
    # Three times half: 1 − ½³ = 87.5 %, 3 · 4 L. By hand.
    three = post(api, "exchange", {"total_ml": "8 L", "drained_ml": "4 L", "target": 0.7, "drains": 3})["planned"]
    assert three == {"drains": 3, "oil_ml": 12_000, "fresh": 0.875}
    assert "cannot drain" in post(api, "exchange", {"total_ml": "3 L", "drained_ml": "4 L", "target": 0.7}, 422)["detail"]
    assert post(api, "exchange", {"total_ml": "8 L", "drained_ml": "4 L", "target": 1.2}, 422)["errors"][0]["field"] == "target"


def test_viscosity_and_its_index(api):
    # ASTM D2270, the published worked example: (22.83, 5.05) has an index of 156.
    made = post(api, "viscosity", {"kv40": 22.83, "kv100": 5.05, "temperature_c": "104 °F", "wanted_kv": 5.05})
    assert round(made["index"]) == 156
    assert made["kv"] == pytest.approx(22.83, rel=1e-6)  # 104 °F is 40 °C
    assert made["at_c"] == pytest.approx(100, abs=1e-6)
    assert "swapped" in post(api, "viscosity", {"kv40": 5, "kv100": 22, "temperature_c": "40"}, 422)["detail"]
    assert post(api, "viscosity", {"kv40": 22, "kv100": 5, "temperature_c": "hot"}, 422)["errors"][0]["field"] == "temperature_c"
