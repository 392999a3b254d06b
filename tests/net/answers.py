"""What a database says: every answer that a workshop reads of its own data. ``python -m tests.net.answers`` prints them as JSON."""

from __future__ import annotations

import io
import json
import sys
from collections.abc import Iterator

HELD_AT = "2026-06-15T10:00:00+00:00"  # the moment at which the databases are made and read


def addresses() -> Iterator[str]:
    """Every address that is asked, by what the database holds."""
    from barodex.bay.models import Service
    from barodex.book.models import OilRecord
    from barodex.fleet.models import Compartment, Vehicle
    from barodex.shelf.models import SpecSheet

    yield from ("due", "book", "book/audit", "book/waste", "services", "lubricants", "additives", "store")
    yield from ("plan/horizon", "plan/morning", "plan/morning/paper")
    for vehicle in Vehicle.objects.order_by("pk"):
        yield from (f"due/{vehicle.pk}", f"due/{vehicle.pk}/life", f"vehicles/{vehicle.pk}/readings", f"services/start/{vehicle.pk}")
        yield f"book/vehicles/{vehicle.pk}/verdict"
    for compartment in Compartment.objects.order_by("pk"):
        yield from (f"book/{compartment.pk}", f"book/{compartment.pk}/trend", f"book/{compartment.pk}/tried")
    for service in Service.objects.order_by("pk"):
        yield from (f"services/{service.pk}", f"services/{service.pk}/gaps")
        if service.state == "open":
            yield from (f"services/{service.pk}/pour/{job.compartment_id}" for job in service.jobs.order_by("pk"))
    for record in OilRecord.objects.order_by("pk"):
        yield f"records/{record.pk}/paper"
    for sheet in SpecSheet.objects.order_by("pk"):
        yield f"sheets/{sheet.pk}"


def _said(response) -> object:
    if response["Content-Type"].startswith("application/pdf"):
        from pypdf import PdfReader

        return [page.extract_text().splitlines() for page in PdfReader(io.BytesIO(response.content)).pages]
    return json.loads(response.content)


def answers() -> dict[str, object]:
    """The status and the words of each, as a lead reads them."""
    from django.test import Client

    from barodex.accounts.models import Person

    client = Client(raise_request_exception=False, HTTP_HOST="localhost")
    client.force_login(Person.objects.filter(role="lead").earliest("pk"), backend="django.contrib.auth.backends.ModelBackend")
    found: dict[str, object] = {}
    for address in addresses():
        response = client.get(f"/api/{address}")
        found[address] = {"status": response.status_code, "said": _said(response)}
    return found


if __name__ == "__main__":
    import os

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "barodex.config.settings")
    import django

    django.setup()
    json.dump(answers(), sys.stdout)
