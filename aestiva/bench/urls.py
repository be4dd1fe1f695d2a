from functools import partial
from typing import Any

from django.urls import path, reverse

from aestiva.bench import (
    bench_views,
    bestdays_views,
    day_views,
    germinate_views,
    hands_views,
    label_views,
    path_views,
    room_views,
    stock_views,
    tray_act_views,
    tray_views,
    views,
)
from aestiva.bench.commands.hands import HelperAddress, MinutesThereAre, TakeTurn
from aestiva.bench.garden_things import CONTAINER, MIX, PLACE
from aestiva.gardens.posting import posts


def its_sheet(request: Any, done: HelperAddress) -> str:
    return reverse("away_sheet", args=[request.garden.pk, done.cleaned_data["absence"].pk])


on_hands = partial(posts, back="hands", page=hands_views.hands_page)

urlpatterns = [
    path("bench/", bench_views.bench, name="bench"),
    path("bench/put/", bench_views.put, name="bench_put"),
    path("bench/together/", bench_views.set_together, name="bench_together"),
    path("bench/find/", tray_views.find, name="bench_find"),
    path("bench/at/<int:spot_id>/", bench_views.place, name="bench_place"),
    path("bench/room/", room_views.room, name="room"),
    path("bench/room.csv", room_views.room_csv, name="room_csv"),
    path("bench/room/soon/", room_views.soon, name="room_soon"),
    path("bench/room/strip/", room_views.strip, name="room_strip"),
    path("bench/room/repairs/", room_views.mend, name="room_mend"),
    path("spots/", bench_views.places, name="spots"),
    *PLACE.addresses("spots/"),
    path("bench/tray/new/", tray_act_views.tray_new, name="tray_new"),
    path("bench/tray/<int:tray_id>/", tray_views.tray, name="tray"),
    path("bench/tray/<int:tray_id>/card/", tray_views.tray_card, name="tray_card"),
    path("bench/tray/<int:tray_id>/act/", tray_act_views.act, name="tray_act"),
    path("bench/stock/", stock_views.stock, name="stock"),
    *CONTAINER.addresses("bench/stock/container/"),
    path("bench/mixes/", stock_views.mixes, name="mixes"),
    *MIX.addresses("bench/mixes/"),
    path("bench/mixes/<int:recipe_id>/", stock_views.mix, name="mix"),
    path("bench/labels/", label_views.labels, name="labels"),
    path("bench/labels.pdf", label_views.labels_pdf, name="labels_pdf"),
    path("bench/path/<int:planting_id>/", path_views.paths, name="paths"),
    path("bench/comes-up/<int:planting_id>/", germinate_views.germinate, name="germinate"),
    path("best-days/", bestdays_views.best_days, name="best_days"),
    path("best-days/<uuid:key>/", bestdays_views.found, name="best_days_found"),
    path("hands/", hands_views.hands, name="hands"),
    path("hands/minutes/keep/", on_hands(MinutesThereAre), name="minutes_keep"),
    path("hands/turn/keep/", on_hands(TakeTurn), name="take_turn"),
    path("away/<int:absence_id>/sheet/", hands_views.away_sheet, name="away_sheet"),
    path("away/<int:absence_id>/address/keep/", posts(HelperAddress, back="away", to=its_sheet), name="help_link"),
    path("bench/received/", stock_views.received, name="received"),
    path("bench/days/", day_views.days_page, name="bench_days"),
    path("bench/day/<int:day_id>/", day_views.day, name="bench_day"),
    path("bench/day/<int:day_id>/stage/", day_views.stage, name="bench_stage"),
    path("bench/day/<int:day_id>/timer/", day_views.timer, name="bench_timer"),
    path("bench/timer/<int:timer_id>/end/", day_views.timer_end, name="timer_end"),
    path("batch/<int:batch_id>/", views.batch, name="batch"),
    path("batch/<int:batch_id>/card/", views.card, name="batch_card"),
    path("batch/<int:batch_id>/record/", views.record, name="batch_record"),
    path("batch/<int:batch_id>/change/", views.change, name="batch_change"),
]
