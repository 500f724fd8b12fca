"""Addresses of the fortnight."""

from django.urls import path

from zonatome.web.fortnight import views

app_name = "fortnight"
urlpatterns = [
    path("", views.home, name="home"),
    path("moving/", views.moving, name="moving"),
    path("print/", views.wall, name="print"),
    path("fortnight.ics", views.calendar, name="calendar"),
    path("again/", views.again, name="again"),
    path("spell/<int:number>/<slug:task>/<int:from_last>/", views.spell, name="spell"),
    path("spell/<int:number>/<slug:task>/<int:from_last>/unpin/", views.unpin_spell, name="unpin"),
    path("due/<int:number>/", views.later_date, name="later_date"),
    path("hours/", views.hours, name="hours"),
    path("hours/off/", views.day_off, name="day_off"),
    path("hours/off/<int:pk>/", views.day_on, name="day_on"),
    path("hours/<int:pk>/", views.hours_of_one, name="hours_of_one"),
]
