from django.apps import AppConfig


class KeepingConfig(AppConfig):
    name = "rogatum.web.keeping"
    label = "keeping"
    default_auto_field = "django.db.models.BigAutoField"
