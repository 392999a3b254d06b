"""What holds for every refusal of the core, wherever a test meets one."""

import pytest

from barodex.core.quantity import errors

# What was not said has no value.
NOT_SAID = (
    "Give what is in the pan",
    "not None",
    "Say how much was poured",
    "without a torque figure",
    "count them back",
    "where the upper mark is",
    "give an estimate",
    "how many drains in all",
    "Tick it when it is so",
    "Which plug is fitted",
    "what the thermometer shows",
)


@pytest.fixture(autouse=True)
def refusals_say_where(monkeypatch):
    """A page shows a refusal at its field: each says a sentence, the field, and what was given there."""
    plain = errors.CoreError.__init__
    faults: list[str] = []

    def watched(self, message, *, field="", value=None, allowed=""):
        plain(self, message, field=field, value=value, allowed=allowed)
        if not (isinstance(message, str) and message.strip()):
            faults.append(f"no sentence at {field}")
        if not (isinstance(field, str) and field):
            faults.append(f"no field: {message}")
        if value in (None, "None") and not any(words in message for words in NOT_SAID):
            faults.append(f"no value at {field}: {message}")
        if not isinstance(allowed, str):
            faults.append(f"no words for what is allowed at {field}: {message}")

    monkeypatch.setattr(errors.CoreError, "__init__", watched)
    yield
    assert faults == []
