"""The demo registers what simulates its gardens; nobody imports it."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "demo"

    def ready(self) -> None:
        from aestiva.gardens.providers import Simulation, offer_simulation
        from demo.hands import do_tasks
        from demo.station import simulate

        offer_simulation(Simulation(simulate, do_tasks))
