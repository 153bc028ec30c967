from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "rogatum.web.accounts"
    label = "accounts"
    default_auto_field = "django.db.models.BigAutoField"
