"""What a plug says of itself in a guide."""

from __future__ import annotations

from barodex.core.guide.steps import torque_words
from barodex.core.sheet.sheet import Plug, key_size


def other_heads(plug: Plug) -> tuple[str, ...]:
    """Give the torques of the heads that a plug is also found with, in words.

    Parameters
    ----------
    plug : with its heads

    Returns
    -------
    tuple of str

    References
    ----------
    The same box with another plug head has another torque: common practice.
    """
    return tuple(
        f"By the head really fitted: {key_size(h.size_mm)} {h.drive}, {torque_words(h.torque_nm)}"
        if h.size_mm is not None
        else f"By the head really fitted: {h.drive}, {torque_words(h.torque_nm)}"
        for h in plug.heads
    )
