"""What was called an event of a service is an act: in its id, in what an undo names, in the pages of signed services."""

from django.db import migrations

RENAMED = {"event": "act", "last_event": "last_act"}


def _page(view, names):
    """The page of a signed service with the keys of its steps, pours and last act by their new names."""
    view = {names.get(k, k): v for k, v in view.items()}
    view["steps"] = [{names.get(k, k): v for k, v in step.items()} for step in view["steps"]]
    for ledger in view["ledgers"]:
        ledger["pours"] = [{names.get(k, k): v for k, v in pour.items()} for pour in ledger["pours"]]
    return view


def _rename(apps, names):
    old, new = next(iter(names.items()))
    acts, pages = apps.get_model("bay", "ServiceAct"), apps.get_model("bay", "SignedPage")
    for act in acts.objects.filter(kind="undo").iterator(chunk_size=500):
        act.values = {new if k == old else k: v for k, v in act.values.items()}
        act.save(update_fields=["values"])
    for page in pages.objects.iterator(chunk_size=50):
        page.view = _page(page.view, names)
        page.save(update_fields=["view"])


def forwards(apps, schema_editor):
    _rename(apps, RENAMED)


def backwards(apps, schema_editor):
    _rename(apps, {new: old for old, new in RENAMED.items()})


class Migration(migrations.Migration):
    dependencies = [("bay", "0007_acts")]

    operations = [
        migrations.RenameField("ServiceAct", "event_id", "act_id"),
        migrations.RunPython(forwards, backwards),
    ]
