from functools import partial
from typing import Any

from django.urls import path, reverse

from aestiva.gardens.access import safe_next
from aestiva.gardens.posting import posts
from aestiva.light import commands, had_views, views
from aestiva.light.things import LAMP, TARIFF


def shelf(request: Any, done: Any) -> str:
    """The shelf it was about."""
    return safe_next(request) or f"{reverse('light', args=[request.garden.pk])}?shelf={done.cleaned_data['spot'].pk}"


keep = partial(posts, back="light", page=views.page, to=shelf)

urlpatterns = [
    path("light/", views.light, name="light"),
    path("light/had.csv", had_views.had_csv, name="light_had_csv"),
    path("light/<int:spot_id>/try/", views.tried, name="light_try"),
    path("light/<int:spot_id>/card/", views.card, name="light_card"),
    path("light/<int:spot_id>/map.csv", views.map_csv, name="light_map_csv"),
    path("light/batch/<int:batch_id>/", had_views.had, name="light_had"),
    path("light/<int:spot_id>/set/keep/", keep(commands.SetLamp), name="light_set"),
    path("light/<int:spot_id>/care/keep/", keep(commands.LampCare), name="light_care"),
    path("light/<int:spot_id>/read/keep/", keep(commands.MeterReading), name="light_read"),
    path("light/<int:spot_id>/hang/keep/", keep(commands.HowItHangs), name="light_hang"),
    *LAMP.addresses("light/lamp/"),
    *TARIFF.addresses("light/current/"),
]
