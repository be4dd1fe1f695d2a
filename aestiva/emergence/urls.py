from django.urls import path

from aestiva.emergence import seedling_views, views, warm_views

urlpatterns = [
    path("emergence/", views.emergence, name="emergence"),
    path("emergence/<int:batch_id>/count/keep/", views.count, name="emergence_count"),
    path("emergence/<int:batch_id>/lifted/keep/", views.lifted, name="emergence_lifted"),
    path("emergence/<int:batch_id>/trigger/keep/", views.trigger, name="emergence_trigger"),
    path("emergence/<int:batch_id>/move/", views.move, name="emergence_move"),
    path("emergence/<int:batch_id>/move/keep/", views.moved, name="emergence_moved"),
    path("emergence/<int:batch_id>/warmth.csv", warm_views.warmth_csv, name="emergence_warmth"),
    path("emergence/<int:batch_id>/again/keep/", views.sow_again, name="emergence_again"),
    path("emergence/<int:batch_id>/stage/keep/", seedling_views.stage_seen, name="emergence_stage"),
    path("emergence/<int:batch_id>/grade/keep/", seedling_views.grade, name="emergence_grade"),
    path("emergence/log/", warm_views.log_read, name="log_read"),
    path("emergence/log/keep/", warm_views.probe_log, name="emergence_log"),
    path("emergence/reading/keep/", warm_views.reading, name="emergence_reading"),
]
