"""The amounts of every record become entries, marked as written before there were any; cycles come from the page as it was signed."""

from dataclasses import replace

from django.db import migrations

from barodex.core.ledger.drained import drained_amount, poured_amount, usual_warmth


def _corrected(record, fixes):
    values = {f: getattr(record, f) for f in ("drained_ml", "drained_c", "poured_ml")}
    for field, after in fixes:
        if field in values:
            values[field] = after
    return values


def _page_ledgers(apps):
    """By (service, compartment): the ledger of the page as it was signed."""
    found = {}
    for service, view in apps.get_model("bay", "SignedPage").objects.values_list("service_id", "view").iterator(chunk_size=200):
        for ledger in view.get("ledgers") or ():
            found[service, str(ledger["compartment"])] = ledger
    return found


def entries_from(record, values, ledger):
    """(kind, amount, cycle) of a record as its columns say it, in the order of the work."""
    revision, details = record.revision, record.details or {}
    method = revision.drain_method if revision else "plug"
    air = record.ambient_c
    warmth = record.warmth or usual_warmth(revision.warm_up if revision else True, method)
    way = "sucked" if method == "suction" else "drained"
    flows = details.get("school") == "flow through"
    top_up = record.work == "top-up"

    def out(volume_ml, taken=None, said=warmth):
        return drained_amount(volume_ml, method, taken, said, air)

    rows = []
    if details.get("ran_ml"):
        rows.append(("run-out", out(details["ran_ml"], None, "cold"), 0))
    for number, cycle in enumerate((ledger or {}).get("cycles") or (), 1):
        if cycle["drained_ml"]:
            rows.append((way, out(cycle["drained_ml"]), number))
        rows.append(("oil", poured_amount(cycle["poured_ml"], air), number))
    if ledger is None and (details.get("oil_ml") or 0) > (values["poured_ml"] or 0):
        rows.append(("oil", poured_amount(details["oil_ml"] - (values["poured_ml"] or 0), air), 1))
    flush_in, flush_out = details.get("flush_in_ml"), details.get("flush_out_ml")
    together = flush_in and flush_out and revision is not None and revision.flush_ml and values["drained_ml"] is not None
    if together:
        rows += [("flush", poured_amount(flush_in, air), 0), ("flush-out", out(flush_in, None, "cold"), 0)]
    if values["drained_ml"] is not None and not flows:
        rows.append((way, out(values["drained_ml"], values["drained_c"]), 0))
    if flush_in and not together:
        rows.append(("flush", poured_amount(flush_in, air), 0))
        if flush_out:
            rows.append(("flush-out", out(flush_out, None, "cold"), 0))
    if values["poured_ml"]:
        rows.append(("top-up" if top_up else "oil", poured_amount(values["poured_ml"], air), 0))
    if record.additive_ml:
        rows.append(("additive", poured_amount(record.additive_ml, air), 0))
    if flows and values["poured_ml"]:
        amount = out(values["drained_ml"]) if values["drained_ml"] else poured_amount(values["poured_ml"], air)
        rows.append(("flowed-out", amount, 0))
    if record.run_out_ml:
        rows.append(("run-out", out(record.run_out_ml, details.get("closed_at_c"), "cold"), 0))
    elif revision is not None and revision.fill_method == "overflow" and revision.surplus_ml and details.get("closed_at_c") and not top_up:
        surplus = min(revision.surplus_ml, values["poured_ml"] or 0.0)
        rows.append(("assumed run-out", replace(out(surplus, None, "cold"), sigma_ml=surplus / 2), 0))
    return rows


def forwards(apps, schema_editor):
    entry, record_of = apps.get_model("book", "LedgerRow"), apps.get_model("book", "OilRecord")
    fixes = {}
    for record, field, after in apps.get_model("book", "Correction").objects.order_by("at", "id").values_list("record_id", "field", "after"):
        fixes.setdefault(record, []).append((field, after))
    ledgers = _page_ledgers(apps)
    made = []
    for record in record_of._base_manager.select_related("revision").iterator(chunk_size=500):
        values = _corrected(record, fixes.get(record.pk, ()))
        rows = entries_from(record, values, ledgers.get((record.service_id, str(record.compartment_id))))
        for place, (kind, amount, cycle) in enumerate(rows):
            made.append(
                entry(
                    record_id=record.pk,
                    place=place,
                    kind=kind.removeprefix("assumed "),
                    assumed=kind.startswith("assumed "),
                    volume_ml=amount.volume_ml,
                    temperature_c=amount.temperature_c,
                    temperature_sigma_k=amount.temperature_sigma_k,
                    sigma_ml=amount.sigma_ml,
                    cycle=cycle,
                    as_written=True,
                )
            )
        details = {k: v for k, v in (record.details or {}).items() if k not in ("oil_ml", "flush_in_ml", "flush_out_ml", "waste_ml", "fresh")}
        if details != record.details:
            record_of._base_manager.filter(pk=record.pk).update(details=details)
        if len(made) > 2000:
            entry._base_manager.bulk_create(made)
            made = []
    entry._base_manager.bulk_create(made)


class Migration(migrations.Migration):
    dependencies = [("book", "0008_entries"), ("bay", "0009_purpose")]

    operations = [migrations.RunPython(forwards)]
