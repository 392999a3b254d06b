"""How far an import is that is being taken in: told beside the database, which shows nothing of it before it is whole."""

from __future__ import annotations

import contextlib
from collections.abc import Callable
from pathlib import Path

from django.conf import settings


def _file(run_id: int) -> Path:
    return Path(settings.VAR) / "progress" / f"import-{run_id}"


def teller(run_id: int) -> Callable[[float], None]:
    """Tells how much is done, 0 to 1; that it cannot be told stops nothing."""
    file = _file(run_id)

    def tell(share: float) -> None:
        with contextlib.suppress(OSError):
            file.parent.mkdir(parents=True, exist_ok=True)
            part = file.with_suffix(".part")
            part.write_text(f"{share:.3f}")
            part.replace(file)

    return tell


def told(run_id: int) -> float:
    """How much was done when it was told last; 0 where nothing is under way."""
    try:
        return min(1.0, max(0.0, float(_file(run_id).read_text())))
    except (OSError, ValueError):
        return 0.0


def forget(run_id: int) -> None:
    """It is over."""
    with contextlib.suppress(OSError):
        _file(run_id).unlink(missing_ok=True)
