"""One-time links, by which somebody who was invited, or forgot the password, chooses one. No mail is needed: the lead shows or prints it."""

from __future__ import annotations

import datetime as dt

from django.conf import settings
from django.contrib.auth.tokens import PasswordResetTokenGenerator
from django.utils.encoding import force_str
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from barodex import clock
from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

from .models import Person

GONE = say("This link was used already, is too old, or a newer one was made. Ask the lead for a new one.")


class _Links(PasswordResetTokenGenerator):
    """Django's own tokens; a newer link ends the ones before, a password that was chosen ends them all."""

    key_salt = "barodex.accounts.links"

    def _make_hash_value(self, user: Person, timestamp: int) -> str:  # type: ignore[override]
        return f"{user.pk}{user.password}{user.link_no}{user.is_active}{timestamp}"

    def _now(self) -> dt.datetime:
        return clock.now().replace(tzinfo=None)


_links = _Links()


def link_for(person: Person) -> tuple[str, dt.datetime]:
    """The address of a link for somebody, and until when it may be used."""
    mark = urlsafe_base64_encode(str(person.pk).encode())
    return f"/join/{mark}.{_links.make_token(person)}", clock.now() + dt.timedelta(seconds=settings.PASSWORD_RESET_TIMEOUT)


def person_by_link(mark: str) -> Person:
    """Who was invited by a link; raises Inconsistent where it is no good any more."""
    who, _, token = mark.partition(".")
    try:
        person = Person.objects.get(pk=int(force_str(urlsafe_base64_decode(who))), is_active=True)
    except (ValueError, OverflowError, Person.DoesNotExist) as error:
        raise Inconsistent(GONE, field="link", value="") from error
    if not _links.check_token(person, token):
        raise Inconsistent(GONE, field="link", value="")
    return person
