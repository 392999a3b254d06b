"""What a step is for: what acts, gates, papers and the page go by, whatever it is called and however it is worded."""

from __future__ import annotations

from enum import StrEnum


class Purpose(StrEnum):
    """One for each thing that a guide lets somebody do; the id of a step begins with it, and nothing reads it out of there."""

    # once a visit
    READY = "ready"
    KIT = "kit"
    WARM = "warm"
    FEEL = "feel"
    SAFE = "safe"
    ACCESS = "access"
    LEVELLED = "levelled"
    WIPE = "wipe"
    STOP = "stop"
    DRIVE = "drive"
    RECHECK = "recheck"
    WASTE = "waste"
    SIGN = "sign"
    # before a compartment is opened
    SHEET = "sheet"
    VARIANT = "variant"  # its casing code
    FETCHED = "fetched"
    COOL = "cool"
    CASE = "case"
    BEFORE = "before"
    EXPOSURE = "exposure"
    CLEAN = "clean"
    PROVE = "prove"
    OPEN = "open"
    STOOD = "stood"
    LEAK = "leak"
    # a flush
    FLUSH_IN = "flushin"
    TURN_OVER = "work"
    HOSE = "hose"
    REST = "rest"
    # out, and what it tells
    OFF = "off"
    DRAIN = "drain"
    POCKET = "pocket"  # a further drain point
    WAIT = "wait"
    MEASURE = "measure"
    WHICH = "which"  # the variant that the amount tells
    LOOK = "look"
    PAN = "pan"
    FILTER = "filter"
    WHILE_OPEN = "whileopen"
    ATTACHED = "attached"
    RINSE = "rinse"
    CHAIN = "chain"
    TENSION = "tension"
    # shut and filled
    SNUG = "snug"  # shut for the time being
    PAN_SHUT = "panshut"
    SHUT = "shut"
    POCKET_SHUT = "pocketshut"
    OIL = "oil"
    POUR = "pour"
    RUNNING = "running"
    SWEEP = "sweep"
    LEVEL = "level"
    CLOSE_LEVEL = "closelevel"
    THERMOSTAT = "thermostat"
    GAUGE = "gauge"
    CLOSE_FILL = "closefill"
    RESET = "reset"
    VALUES = "values"


# What drains: while one of them is undone, what was poured before no longer counts as inside.
LETS_OIL_OUT = frozenset({Purpose.DRAIN, Purpose.POCKET, Purpose.SHUT, Purpose.POCKET_SHUT, Purpose.PAN_SHUT})
# After these the vehicle is driven, unless the verdict is to stop it.
UNLESS_STOPPED = frozenset({Purpose.DRIVE, Purpose.RECHECK})
