from django.apps import AppConfig


class PoolsConfig(AppConfig):
    name = "rogatum.web.pools"
    label = "pools"
    default_auto_field = "django.db.models.BigAutoField"
