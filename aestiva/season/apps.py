from django.apps import AppConfig


class SeasonConfig(AppConfig):
    name = "aestiva.season"
    label = "season"
