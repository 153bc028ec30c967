from importlib import import_module

from django.apps import AppConfig


class WebConfig(AppConfig):
    name = "rogatum.web"
    label = "web"

    def ready(self) -> None:
        # The API imports every service, and with them the works that jobs run; the worker needs these too.
        import_module("rogatum.web.api")
