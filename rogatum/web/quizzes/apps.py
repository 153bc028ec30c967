from importlib import import_module

from django.apps import AppConfig


class QuizzesConfig(AppConfig):
    name = "rogatum.web.quizzes"
    label = "quizzes"
    default_auto_field = "django.db.models.BigAutoField"

    def ready(self) -> None:
        # What listens to other apps.
        import_module("rogatum.web.quizzes.following")
