"""The devices tell the Bay what they have to say to an act, when the application starts."""

from django.apps import AppConfig


class DevicesConfig(AppConfig):
    """Adds the check of resets to those of the Bay."""

    name = "barodex.devices"

    def ready(self) -> None:
        from barodex.bay.actions import ACT_CHECKS

        from . import registry
        from .checks import check_reset

        registry.load()

        if check_reset not in ACT_CHECKS:
            ACT_CHECKS.append(check_reset)
