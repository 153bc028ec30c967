from django.apps import AppConfig


class HandoffsConfig(AppConfig):
    name = "rogatum.web.handoffs"
    label = "handoffs"
    default_auto_field = "django.db.models.BigAutoField"
