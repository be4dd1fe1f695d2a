from django.urls import path

from aestiva.gardens import views

urlpatterns = [
    path("settings/", views.settings, name="settings"),
    path("journal/", views.journal_page, name="journal"),
    path("journal/<int:entry_id>/undo/", views.undo, name="undo"),
]
