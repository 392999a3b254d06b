"""The steps of stored guides say what they are for, what is to do, on which compartment, which plug they shut and what they reset.

Here, once, that is read out of the ids and titles by which it was known until now; nothing else does so.
"""

import re

from django.db import migrations

RESET, LOOK = "Done: ", "Look again"
POCKETS = {"drain": "pocket", "shut": "pocketshut"}  # further drain points had a number behind the word
PLUG = (r"shut the (.+?), ", r"close the (.+?), ", r"(.+?) back on, ")


def purpose_of(step_id):
    """drain.7.2 is a drain, drain2.7 a pocket."""
    word = step_id.split(".")[0]
    bare = word.rstrip("0123456789")
    return POCKETS[bare] if bare != word else word


def _resets(checklist):
    return [c[len(RESET) :] for c in checklist if c.startswith(RESET)]


def _plain(checklist):
    return [c for c in checklist if not c.startswith(RESET)]


def _task(title, name):
    return title[len(name) + 2 :] if name and title.startswith(f"{name}: ") else title


def _plug(kind, task):
    found = next((m for p in PLUG if (m := re.match(p, task))), None) if kind == "torque" else None
    return found.group(1) if found else ""


def step_of(step, names):
    """A step of a stored guide in its new form."""
    step = dict(step)
    name = names.get(step["compartment"], "")
    step["task"] = _task(step.pop("title"), name)
    step["box"] = name
    step["purpose"] = purpose_of(step["id"])
    step["plug"] = _plug(step["kind"], step["task"])
    step["resets"] = _resets(step["checklist"])
    step["checklist"] = _plain(step["checklist"])
    return step


def guide_of(kept):
    """A stored guide in form 2."""
    names = {j["key"]: j["name"] for j in kept["jobs"]}
    return {
        **kept,
        "form": 2,
        "steps": [step_of(s, names) for s in kept["steps"]],
        "variants": {
            key: {name: {**taken, "steps": [step_of(s, names) for s in taken["steps"]]} for name, taken in of_one.items()}
            for key, of_one in kept["variants"].items()
        },
    }


def page_step(step, names):
    """A step of the page of a signed service; what the tool had said was in its ticks."""
    cycle = step["id"].split(".")[2:]
    return {
        **step,
        "purpose": purpose_of(step["id"]),
        "task": _task(step["title"], names.get(step["compartment"], "")),
        "cycle": int(cycle[0]) if step["phase"] == "exchange" and cycle and cycle[0].isdigit() else 0,
        "checklist": _plain(step["checklist"]),
        "resets": [{"name": r, "outcome": "", "why": ""} for r in _resets(step["checklist"])],
        "values": _ticked(step["values"]) if step["id"].startswith("reset.") else step["values"],
    }


def _assessed(assessment):
    """When to look again stands apart from what else is to be done."""
    if not assessment:
        return assessment
    looks = [a for a in assessment["actions"] if a.startswith(LOOK)]
    return {**assessment, "actions": [a for a in assessment["actions"] if a not in looks], "look": looks[0] if looks else ""}


def _ticked(values):
    ticked = values.get("ticked")
    return {**values, "ticked": [t[len(RESET) :] if t.startswith(RESET) else t for t in ticked]} if isinstance(ticked, list) else values


def forwards(apps, schema_editor):
    guides, pages, acts = (apps.get_model("bay", m) for m in ("ServiceGuide", "SignedPage", "ServiceAct"))
    for row in guides.objects.iterator(chunk_size=50):
        row.guide = guide_of(row.guide)
        row.save(update_fields=["guide"])
    for page in pages.objects.iterator(chunk_size=50):
        names = {x["compartment"]: x["name"] for x in page.view["ledgers"]}
        ledgers = [{**x, "assessment": _assessed(x["assessment"])} for x in page.view["ledgers"]]
        page.view = {**page.view, "ledgers": ledgers, "steps": [page_step(s, names) for s in page.view["steps"]]}
        page.save(update_fields=["view"])
    for act in acts.objects.filter(kind="done", step__startswith="reset.").iterator(chunk_size=500):
        act.values = _ticked(act.values)
        act.save(update_fields=["values"])


class Migration(migrations.Migration):
    dependencies = [("bay", "0008_act_id")]

    operations = [migrations.RunPython(forwards)]
