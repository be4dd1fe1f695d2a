from django.apps import AppConfig


class GardensConfig(AppConfig):
    name = "aestiva.gardens"
    label = "gardens"
