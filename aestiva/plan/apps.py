from django.apps import AppConfig


class PlanConfig(AppConfig):
    name = "aestiva.plan"
    label = "plan"
