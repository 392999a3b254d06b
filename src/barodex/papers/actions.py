"""Papers that are sent."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.mail import EmailMessage
from django.core.validators import validate_email

from barodex import clock
from barodex.accounts.actions import audit, require
from barodex.accounts.models import Person
from barodex.core.quantity.errors import GateClosed, Inconsistent
from barodex.core.words import say
from barodex.desk.morning import as_text, morning
from barodex.devices.protocol import PrintedLabels
from barodex.devices.queries import label_printer
from barodex.papers.label import as_pdf, as_png, labels_of, size_named
from barodex.papers.morning import morning_paper


@dataclass(frozen=True)
class Sent:
    """To whom a mail went, and in which folder it waits when there is no mail server (empty: it was sent)."""

    to: tuple[str, ...]
    outbox: str


MOST_ADDRESSES = 20


def send_morning(by: Person, to: tuple[str, ...] = ()) -> Sent:
    """Send the morning summary; to one's own address when none is named. Without a mail server it goes into the outbox folder."""
    require(by, "lead")
    wanted = tuple(dict.fromkeys(a.strip() for a in to if a.strip())) or ((by.email,) if by.email else ())
    if not wanted:
        raise Inconsistent(say("Name an address: you have none of your own here."), field="to", value="")
    if len(wanted) > MOST_ADDRESSES:
        raise Inconsistent(say("At most {most_addresses} addresses at once.", most_addresses=MOST_ADDRESSES), field="to", value=len(wanted))
    for address in wanted:
        try:
            validate_email(address)
        except ValidationError:
            raise Inconsistent(say("“{address}” is no mail address.", address=address), field="to", value=address) from None
    made = morning(clock.today(), by.unit_system)
    mail = EmailMessage(say("Barodex: {made_text}", made_text=made.text), as_text(made), to=list(wanted))
    mail.attach(f"morning-{made.today}.pdf", morning_paper(made), "application/pdf")
    try:
        mail.send()
    except OSError as error:
        raise GateClosed(
            say("The mail was not sent: {strerror}. Nothing is lost; try again.", strerror=error.strerror or error), field="to"
        ) from error
    audit(by, "morning summary sent", by, (), to=list(wanted))
    return Sent(wanted, "" if settings.EMAIL_HOST else str(settings.EMAIL_FILE_PATH))


def print_labels(by: Person, records: tuple[int, ...], size: str, base: str) -> PrintedLabels:
    """Print the labels of records on the label printer of the workshop; raises GateClosed where none is chosen or it does not print."""
    require(by, "technician")
    printer = label_printer(str(Path(settings.VAR) / "outbox" / "labels"))
    if printer is None:
        raise GateClosed(
            say("No label printer is chosen: settings, devices. Open the labels as a paper instead."), field="printer", value=""
        )
    chosen = size_named(size)
    if chosen.on_a_page > 1:
        raise Inconsistent(say("A label printer prints from a roll: choose a size of a roll."), field="size", value=size)
    drawn = labels_of(records, chosen, 1, by.unit_system, base)
    pictures = tuple(as_png(d, chosen.width, chosen.height) for d in drawn)
    name = "-".join(str(pk) for pk in records[:6])
    made = printer.print(name, pictures, as_pdf(drawn, chosen), clock.now())
    if not made.done:
        raise GateClosed(made.text, field="printer", value="")
    audit(by, "labels printed", by, (), records=list(records), size=size)
    return made
