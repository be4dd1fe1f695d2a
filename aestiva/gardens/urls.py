from django.urls import path

from aestiva.gardens import people, views

urlpatterns = [
    path("garden.json", views.garden_file, name="garden_file"),
    path("live/", views.live, name="live"),
    path("members/", people.members, name="members"),
    path("members/leave/", people.leave, name="leave"),
    path("settings/", views.settings, name="settings"),
    path("journal/", views.journal_page, name="journal"),
    path("journal/<int:entry_id>/undo/", views.undo, name="undo"),
]
