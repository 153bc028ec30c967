from django.apps import AppConfig
from django.db.models.signals import post_migrate

from rogatum.web.pools.circles import forbid_circles


class PoolsConfig(AppConfig):
    name = "rogatum.web.pools"
    label = "pools"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        post_migrate.connect(forbid_circles, sender=self)
