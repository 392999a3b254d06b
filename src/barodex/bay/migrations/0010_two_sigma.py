"""A loss is shown with twice its uncertainty: the kept pages of signed services say so too. What went in last time is an amount."""

from dataclasses import asdict

from django.db import migrations

from barodex.core.ledger.drained import poured_amount


def forwards(apps, schema_editor):
    page_of = apps.get_model("bay", "SignedPage")
    for page in page_of.objects.iterator(chunk_size=200):
        for ledger in page.view.get("ledgers") or ():
            loss = ledger.get("loss")
            if not loss or "within_ml" in loss:
                continue
            rate = loss.pop("per_1000km_sigma_ml", None)
            loss["within_ml"] = 2 * loss["sigma_ml"]
            loss["per_1000km_within_ml"] = None if rate is None else 2 * rate
        page.save(update_fields=["view"])
    for job in apps.get_model("bay", "ServiceJob").objects.iterator(chunk_size=500):
        net, air = job.past.pop("net_in_ml", None), job.past.pop("poured_c", None)
        topups = job.past.pop("topups_ml", None) or ()
        if net is not None:
            job.past["last_in"] = asdict(poured_amount(net, air))
        if topups:
            job.past["topups"] = [asdict(poured_amount(ml)) for ml in topups]
        job.save(update_fields=["past"])


class Migration(migrations.Migration):
    dependencies = [("bay", "0009_purpose")]

    operations = [migrations.RunPython(forwards)]
