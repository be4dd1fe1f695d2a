from django.urls import path

from aestiva.today import calendar_views, demo_views, script_views, views

urlpatterns = [
    path("today/", views.today, name="today"),
    path("today/clock/", demo_views.clock_step, name="clock_step"),
    path("today/round/", views.round_line, name="round_line"),
    path("today/minutes/", views.minutes, name="minutes"),
    path("today/put-off/", views.put_off, name="put_off"),
    path("today/fold/", views.fold_rows, name="fold"),
    path("tasks/", views.act_together, name="tasks"),
    path("task/<str:key>/", views.act, name="task"),
    path("task/<str:key>/more/", views.more, name="task_more"),
    path("task/<str:key>/note/", views.note, name="task_note"),
    path("task/<str:key>/why/", views.why, name="task_why"),
    path("do/<str:command>/", script_views.do, name="do"),
    path("openapi.json", script_views.openapi, name="openapi"),
    path("state.json", script_views.state, name="state"),
    path("calendar/", calendar_views.page, name="calendar"),
    path("calendar/week/", calendar_views.week_page, name="week"),
    path("calendar/week/<str:start>/", calendar_views.week_rows, name="week_rows"),
    path("calendar/month/", calendar_views.month_page, name="month"),
    path("calendar/tasks.ics", calendar_views.file, name="calendar_file"),
]
