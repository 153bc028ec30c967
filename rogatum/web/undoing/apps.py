from django.apps import AppConfig


class UndoingConfig(AppConfig):
    name = "rogatum.web.undoing"
    label = "undoing"
    default_auto_field = "django.db.models.BigAutoField"
