from django.apps import AppConfig


class TodayConfig(AppConfig):
    name = "aestiva.today"
    label = "today"
