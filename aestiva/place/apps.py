from django.apps import AppConfig


class PlaceConfig(AppConfig):
    name = "aestiva.place"
    label = "place"
