from django.apps import AppConfig


class CoursesConfig(AppConfig):
    name = "rogatum.web.courses"
    label = "courses"
    default_auto_field = "django.db.models.BigAutoField"
