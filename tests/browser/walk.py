"""Does steps of a service through the API, as another device of the same person would."""

import uuid

from playwright.sync_api import Page

LOOK = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}


def plain_values(step: dict) -> dict:
    """What a technician notes who ticks everything."""
    values: dict = {"ticked": step["checklist"]} if step["checklist"] else {}
    for f in step["fields"]:
        if f["kind"] == "choice":
            values[f["name"]] = f["choices"][0]
        elif f["kind"] == "bool":
            values[f["name"]] = True
        elif f["kind"] == "torque":
            values |= {f["name"]: f["default_number"] or 30, "reason": "asked the dealer"}
        elif f["kind"] == "finding":
            values[f["name"]] = LOOK
        elif f["kind"] == "temperature" and step["window_high_c"] is not None:
            values[f["name"]] = step["window_high_c"] - 2
        elif f["kind"] == "number" and f["required"]:
            values[f["name"]] = 2
        elif f["kind"] == "text" and f["required"]:
            values[f["name"]] = "as before"
    return values


def finish(page: Page, service: int, stop: str = "", drained: str = "1.8 L") -> None:
    """Do what is left of a service, to its signature or until a step whose id starts with ``stop``."""
    key = page.request.get("/api/session").json()["csrf"]

    def post(step: str, kind: str = "done", **values):
        body = {"event_id": str(uuid.uuid4()), "kind": kind, "step": step, "values": values}
        answer = page.request.post(f"/api/services/{service}/events", data=body, headers={"X-CSRFToken": key})
        assert answer.ok, answer.text()
        return answer.json()

    state = page.request.get(f"/api/services/{service}").json()
    for _ in range(120):
        step = next((s for s in state["steps"] if s["status"] == "open"), None)
        if state["state"] == "signed" or step is None:
            break
        if stop and step["id"].startswith(stop):
            return
        values = plain_values(step)
        if step["kind"] == "measure":
            values |= {"pan_ml": drained, "temperature_c": "30"}
        if step["kind"] == "pour":
            post(step["id"], "add", volume_ml=state["ledgers"][0]["target_ml"])
        state = post(step["id"], "skip" if step["kind"] == "timer" and step["skip"] == "free" else "done", **values)
    assert state["state"] == "signed"
