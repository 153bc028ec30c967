from django.apps import AppConfig


class SourcesConfig(AppConfig):
    name = "rogatum.web.sources"
    label = "sources"
    default_auto_field = "django.db.models.BigAutoField"
