from django.apps import AppConfig


class QuizzesConfig(AppConfig):
    name = "rogatum.web.quizzes"
    label = "quizzes"
    default_auto_field = "django.db.models.BigAutoField"
