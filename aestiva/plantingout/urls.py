from django.urls import path

from aestiva.plantingout import tonight_views, views

urlpatterns = [
    path("plantingout/", views.plantingout, name="plantingout"),
    path("plantingout/gates.csv", views.gates_csv, name="gates_csv"),
    path("plantingout/<int:batch_id>/", views.gate, name="gate"),
    path("plantingout/<int:batch_id>/planted/keep/", views.planted, name="gate_planted"),
    path("plantingout/bed/keep/", views.bed_state, name="bed_state"),
    path("tonight/", tonight_views.beds_tonight, name="beds_tonight"),
    path("tonight/covered/keep/", tonight_views.covered, name="tonight_covered"),
    path("tonight/lost/<int:batch_id>/keep/", tonight_views.lost, name="tonight_lost"),
    path("tonight/covers/keep/", tonight_views.cover_keep, name="cover_keep"),
    path("tonight/covers/<int:cover_id>/remove/", tonight_views.cover_remove, name="cover_remove"),
]
