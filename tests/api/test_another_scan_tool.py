"""A second scan tool in one file: it registers itself, is chosen, connected, read and asked for a reset, and is no stand-in."""

from __future__ import annotations

import datetime as dt
from typing import Any

import pytest

from barodex.devices import registry
from barodex.devices.protocol import ResetState, ScanReading, ScanSetup
from barodex.devices.registry import Adaptor, names_of, register
from tests.api.test_kinds import automatic  # noqa: F401


class CableTool:
    """A tool on a cable: it is live at once, reads 41.5 °C, and resets what it is asked to."""

    def __init__(self, state: dict[str, Any]) -> None:
        self.state = state

    def read(self, now: dt.datetime) -> ScanReading:
        return ScanReading("live", now, 41.5, 12.9, False, True, False)

    def resets(self, now: dt.datetime) -> tuple[ResetState, ...]:
        return tuple(
            ResetState(n, "0" if n in self.state["done"] else "7", "done" if n in self.state["done"] else "idle")
            for n in self.state["names"]
        )

    def start_reset(self, name: str, now: dt.datetime) -> None:
        self.state["done"].append(name)


def connect(setup: ScanSetup) -> dict[str, Any]:
    return {"names": ["shift adaptation", *setup.resets], "done": []}


@pytest.fixture
def cable(monkeypatch):
    monkeypatch.setattr(registry, "_ADAPTORS", dict(registry._ADAPTORS))
    register(Adaptor("scan tool", "on a cable", connect, CableTool))


def test_it_is_chosen_and_works_as_the_first_one_does(api, automatic, cable):  # noqa: F811
    assert names_of("scan tool") == ("none", "simulated", "on a cable")
    assert names_of("scale") == ("none", "simulated")
    chosen = api.lead.call("patch", "/api/devices", {"kind": "scan tool", "adaptor": "on a cable"})
    tool = next(d for d in chosen if d["kind"] == "scan tool")
    assert (tool["adaptor"], tool["simulated"]) == ("on a cable", False)
    refused = api.lead.call("patch", "/api/devices", {"kind": "scale", "adaptor": "on a cable"}, 422)
    assert refused["errors"][0]["field"] == "adaptor"
    path = f"/api/services/{automatic.service}/scan"
    view = api.technician.post(path)
    assert (view["adaptor"], view["simulated"], view["reading"]["temperature_c"]) == ("on a cable", False, 41.5)
    done = api.technician.post(f"{path}/reset", {"name": "shift adaptation"})
    assert {r["name"]: r["state"] for r in done["resets"]}["shift adaptation"] == "done"
    assert "keeps no" in api.technician.post(f"{path}/reset", {"name": "radio code"}, expect=422)["detail"]


def test_its_key_is_not_turned_from_the_page(api, automatic, cable):  # noqa: F811
    api.lead.call("patch", "/api/devices", {"kind": "scan tool", "adaptor": "on a cable"})
    path = f"/api/services/{automatic.service}/scan"
    api.technician.post(path)
    assert "by hand" in api.technician.call("patch", path, {"engine_on": True}, 409)["detail"]
