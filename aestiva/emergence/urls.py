from django.urls import path

from aestiva.emergence import views

urlpatterns = [
    path("emergence/", views.emergence, name="emergence"),
    path("emergence/<int:batch_id>/count/keep/", views.count, name="emergence_count"),
    path("emergence/<int:batch_id>/lifted/keep/", views.lifted, name="emergence_lifted"),
    path("emergence/log/keep/", views.probe_log, name="emergence_log"),
    path("emergence/reading/keep/", views.reading, name="emergence_reading"),
]
