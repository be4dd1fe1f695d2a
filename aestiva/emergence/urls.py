from django.urls import path

from aestiva.emergence import views

urlpatterns = [
    path("emergence/", views.emergence, name="emergence"),
    path("emergence/<int:batch_id>/count/keep/", views.count, name="emergence_count"),
    path("emergence/<int:batch_id>/lifted/keep/", views.lifted, name="emergence_lifted"),
    path("emergence/<int:batch_id>/trigger/keep/", views.trigger, name="emergence_trigger"),
    path("emergence/<int:batch_id>/move/", views.move, name="emergence_move"),
    path("emergence/<int:batch_id>/again/keep/", views.sow_again, name="emergence_again"),
    path("emergence/<int:batch_id>/stage/keep/", views.stage_seen, name="emergence_stage"),
    path("emergence/<int:batch_id>/grade/keep/", views.grade, name="emergence_grade"),
    path("emergence/log/keep/", views.probe_log, name="emergence_log"),
    path("emergence/reading/keep/", views.reading, name="emergence_reading"),
]
