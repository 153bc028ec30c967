from importlib import import_module

from django.apps import AppConfig
from django.conf import settings

from rogatum.web import starting


class WebConfig(AppConfig):
    name = "rogatum.web"
    label = "web"

    def ready(self) -> None:
        settings.SECRET_KEY = settings.OWN_SECRET_KEY or starting.secret_key(settings.DATA)
        # The API imports every service, and with them the works that jobs run; the worker needs these too.
        import_module("rogatum.web.api")
