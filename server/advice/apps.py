"""What the advice asks of the database."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate

from server.advice import touching


class AdviceConfig(AppConfig):
    """Its triggers follow the models whenever the database is migrated."""

    name = "server.advice"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        post_migrate.connect(touching.install, sender=self)
