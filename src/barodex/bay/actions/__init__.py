"""Changes of a service: start, an act, the signature, give it up. One function a change."""

from barodex.bay.actions.acting import ACT_CHECKS, post_act
from barodex.bay.actions.dropping import drop_service
from barodex.bay.actions.reading_acts import NewAct, read_values, when_done
from barodex.bay.actions.starting import JobSpec, Weather, WorkSpec, check_work_spec, no_warm, start_service

__all__ = [
    "ACT_CHECKS",
    "JobSpec",
    "NewAct",
    "Weather",
    "WorkSpec",
    "check_work_spec",
    "drop_service",
    "no_warm",
    "post_act",
    "read_values",
    "start_service",
    "when_done",
]
