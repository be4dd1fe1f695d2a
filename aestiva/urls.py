"""Addresses in the order of work; everything of a garden lies under /g/<garden>/."""

from django.urls import include, path

from aestiva.bench import hands_views, label_views
from aestiva.frame import views as frame
from aestiva.gardens import import_views, people
from aestiva.gardens import views as gardens
from aestiva.place import reading_views
from aestiva.today import calendar_views, demo_views

urlpatterns = [
    path("", gardens.home, name="home"),
    path("csp-report/", frame.csp_report, name="csp_report"),
    path("demo/", demo_views.enter, name="demo_enter"),
    path("account/", include("aestiva.accounts.urls")),
    path("new/", gardens.garden_new, name="garden_new"),
    path("new/zone/", gardens.zone, name="zone"),
    path("gardens/", gardens.gardens, name="gardens"),
    path("gardens/import/", import_views.garden_import, name="garden_import"),
    path("jobs/<uuid:key>/", import_views.job_page, name="job"),
    path("join/<str:token>/", people.join, name="join"),
    path("account/delete/", people.delete_account, name="delete_account"),
    path("feed/", reading_views.receive, name="feed"),
    path("calendar/<str:token>.ics", calendar_views.feed, name="calendar_feed"),
    path("help/<str:token>/", hands_views.help_sheet, name="help_sheet"),
    path("l/", label_views.ask_code, name="label_ask"),
    path("l/<str:typed>/", label_views.opened, name="label"),
    path(
        "g/<int:garden_id>/",
        include(
            [
                path("", include("aestiva.gardens.urls")),
                path("", include("aestiva.place.urls")),
                path("", include("aestiva.beds.urls")),
                path("", include("aestiva.seeds.urls")),
                path("", include("aestiva.plan.urls")),
                path("", include("aestiva.bench.urls")),
                path("", include("aestiva.emergence.urls")),
                path("", include("aestiva.light.urls")),
                path("", include("aestiva.care.urls")),
                path("", include("aestiva.hardening.urls")),
                path("", include("aestiva.plantingout.urls")),
                path("", include("aestiva.today.urls")),
            ]
        ),
    ),
]
handler404 = "aestiva.frame.views.not_found"
handler500 = "aestiva.frame.views.broken"
handler403 = "aestiva.frame.views.forbidden"
