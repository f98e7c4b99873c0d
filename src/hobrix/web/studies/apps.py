from django.apps import AppConfig


class StudiesConfig(AppConfig):
    name = "hobrix.web.studies"
    label = "studies"
    default_auto_field = "django.db.models.BigAutoField"
