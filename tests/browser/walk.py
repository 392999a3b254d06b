"""Does steps of a service through the API, as another device of the same person would."""

import re
import uuid

from playwright.sync_api import Page

LOOK = {"magnet": "film", "particles": [], "colour": "brown", "clarity": "clear", "smell": "none"}


def have_it_all(page: Page) -> None:
    """On the start page: what the store lacks is in the hand all the same, and somebody fetches the oil that is short."""
    page.get_by_role("button", name=re.compile("^Start on")).wait_for()
    page.locator("form[aria-busy=false]").wait_for()  # what the store lacks is asked apart
    for box in page.get_by_role("checkbox", name="it is in my hand all the same").all():
        box.check()
    fetches = page.get_by_label("Or who fetches it")
    if fetches.count():
        fetches.fill("Fergus")


def plain_values(step: dict) -> dict:
    """What a technician notes who ticks everything."""
    values: dict = {"ticked": [*step["checklist"], *(r["name"] for r in step["resets"])]} if step["checklist"] or step["resets"] else {}
    if step["kind"] == "confirm" and any(f["name"] == "reason" for f in step["fields"]):
        values["reason"] = "as far as the oil goes"
    for f in step["fields"]:
        if f["kind"] == "choice" and f["required"]:
            values[f["name"]] = f["choices"][0]
        elif f["kind"] == "bool":
            values[f["name"]] = f["name"] != "full"
        elif f["kind"] == "torque":
            values |= {f["name"]: f["default_number"] or 30, "reason": "asked the dealer"}
        elif f["kind"] == "finding":
            values[f["name"]] = LOOK
        elif f["kind"] == "temperature" and step["window_high_c"] is not None:
            values[f["name"]] = step["window_high_c"] - 2
        elif f["kind"] == "number" and f["required"]:
            values[f["name"]] = 2
        elif f["kind"] == "text" and f["required"]:
            values[f["name"]] = f["default_text"] or "as before"
    return values


def finish(
    page: Page, service: int, stop: str = "", drained: str = "", pour_from_the_shelf: bool = False, finding: dict | None = None
) -> None:
    """Do what is left of a service, to its signature or until a step whose id starts with ``stop``; what is poured comes from elsewhere, or
    from the bottles of the plan as far as they reach."""
    key = page.request.get("/api/session").json()["csrf"]

    def post(step: str, kind: str = "done", **values):
        body = {"act_id": str(uuid.uuid4()), "kind": kind, "step": step, "values": values}
        answer = page.request.post(f"/api/services/{service}/acts", data=body, headers={"X-CSRFToken": key})
        assert answer.ok, answer.text()
        return answer.json()

    def plan(step: dict):
        return page.request.get(f"/api/services/{service}/pour/{step['compartment']}").json()

    state = page.request.get(f"/api/services/{service}").json()
    for _ in range(160):
        step = next((s for s in state["steps"] if s["status"] == "open"), None)
        if state["state"] == "signed" or step is None:
            break
        if stop and step["id"].startswith(stop):
            return
        if step["forbidden"] and step["skip"] != "never":
            state = post(step["id"], "skip", reason=step["forbidden"][:200])
            continue
        values = plain_values(step)
        if finding is not None and "finding" in values:
            values["finding"] = finding
        if step["kind"] == "measure":
            holds = next(x for x in state["ledgers"] if x["compartment"] == step["compartment"])["capacity_ml"] or 1850
            values |= {"pan_ml": drained or 0.97 * holds, "temperature_c": "30"}
        if step["purpose"] == "rinse":
            held = plan(step)["bottles"] if pour_from_the_shelf else []
            values |= {"container": held[0]["container"]} if held else {"elsewhere": True}
        if step["kind"] == "pour" and pour_from_the_shelf:
            for b in plan(step)["bottles"]:
                amount = b["content_ml"] - b["left_ml"]
                if amount > 0.5:
                    state = post(step["id"], "add", volume_ml=amount, container=b["container"])
        if step["kind"] == "pour":
            ledger = next(x for x in state["ledgers"] if x["compartment"] == step["compartment"])
            left = (ledger["target_ml"] or 200) - ledger["poured_ml"]
            if left > 0.5:
                post(step["id"], "add", volume_ml=left, elsewhere=True)
        free = step["skip"] == "free" and step["kind"] in ("timer", "note")
        state = post(step["id"], "skip" if free else "done", **values)
    assert state["state"] == "signed"
