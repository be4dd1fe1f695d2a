from django.apps import AppConfig


class FrameConfig(AppConfig):
    name = "aestiva.frame"
    label = "frame"
