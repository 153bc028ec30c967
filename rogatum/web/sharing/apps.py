from django.apps import AppConfig


class SharingConfig(AppConfig):
    name = "rogatum.web.sharing"
    label = "sharing"
    default_auto_field = "django.db.models.BigAutoField"
