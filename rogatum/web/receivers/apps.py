from django.apps import AppConfig


class ReceiversConfig(AppConfig):
    name = "rogatum.web.receivers"
    label = "receivers"
    default_auto_field = "django.db.models.BigAutoField"
