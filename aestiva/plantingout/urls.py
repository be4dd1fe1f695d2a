from functools import partial

from django.urls import path

from aestiva.gardens.posting import posts
from aestiva.plantingout import commands, tonight_views, views

this_evening = partial(posts, back="beds_tonight", page=tonight_views.page)

urlpatterns = [
    path("plantingout/", views.plantingout, name="plantingout"),
    path("plantingout/gates.csv", views.gates_csv, name="gates_csv"),
    path("plantingout/<int:batch_id>/", views.gate, name="gate"),
    path(
        "plantingout/<int:batch_id>/planted/keep/",
        posts(commands.Planted, back="plantingout", page=views.gate_page),
        name="gate_planted",
    ),
    path("plantingout/bed/keep/", posts(commands.BedToday, back="plantingout", page=views.page), name="bed_state"),
    path("tonight/", tonight_views.beds_tonight, name="beds_tonight"),
    path("tonight/covered/keep/", this_evening(commands.ThisEvening), name="tonight_covered"),
    path("tonight/lost/<int:batch_id>/keep/", this_evening(commands.LostOutside), name="tonight_lost"),
    path("tonight/covers/keep/", this_evening(commands.KeepCover), name="cover_keep"),
    path("tonight/covers/<int:cover_id>/remove/", this_evening(commands.RemoveCover), name="cover_remove"),
]
