"""Names by which people sign in: what may be one, and which two look alike."""

from __future__ import annotations

import unicodedata

from barodex.core.quantity.errors import Inconsistent
from barodex.core.words import say

LONGEST_NAME = 60


def checked_name(name: str, field: str = "username") -> str:
    """The name as it is kept; raises Inconsistent for one that is empty, too long, or holds what nobody sees."""
    plain = unicodedata.normalize("NFKC", name)
    unseen = next((c for c in plain if unicodedata.category(c)[0] == "C"), None)
    if unseen is not None:
        raise Inconsistent(
            say("A name has letters and digits that can be seen: this one holds a control character."), field=field, value=""
        )
    kept = " ".join(plain.split())
    if not alike(kept):
        raise Inconsistent(say("Say by which name somebody signs in."), field=field, value=kept)
    if len(kept) > LONGEST_NAME:
        raise Inconsistent(
            say("A name has at most {longest_name} characters; this one has {kept}.", longest_name=LONGEST_NAME, kept=len(kept)),
            field=field,
            value=kept[:LONGEST_NAME],
            allowed=say("up to {longest_name} characters", longest_name=LONGEST_NAME),
        )
    return kept


def alike(name: str) -> str:
    """What two names that look alike have in common: letters and digits, without case, accents, spaces and signs."""
    apart = unicodedata.normalize("NFKD", name).casefold()
    return "".join(c for c in apart if c.isalnum())
