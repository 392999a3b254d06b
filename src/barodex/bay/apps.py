"""Services from before keep what they lack, when the database has been brought up to date."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class BayConfig(AppConfig):
    """Hears when the migrations are done.

    No migration does it: building a guide needs the sheets as they are after the last migration of every app, and by the models of
    today. Each service gets it once; whoever changes step ids later renames those of services that were kept already.
    """

    name = "barodex.bay"

    def ready(self) -> None:
        from .from_before import keep_all

        post_migrate.connect(keep_all, sender=self, dispatch_uid="keep what services lack")
