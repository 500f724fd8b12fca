"""Addresses of the trim step."""

from django.urls import path

from zonatome.web.trim import views

app_name = "trim"
urlpatterns = [
    path("", views.home, name="home"),
    path("choose/", views.choose, name="choose"),
    path("lines/", views.add_line, name="line"),
    path("lines/<int:pk>/remove/", views.remove_line, name="remove_line"),
    path("lines/<int:pk>/nails/", views.nailed, name="nails"),
    path("lines/<int:pk>/nails/set/", views.set_nails, name="set_nails"),
    path("lines/<int:pk>/nails/strip.pdf", views.nail_strip, name="nail_strip"),
    path("skirt/", views.skirted, name="skirt"),
    path("legs/", views.add_leg, name="leg"),
    path("legs/none/", views.no_legs, name="no_legs"),
    path("bottom.<slug:kind>", views.bottom_file, name="bottom_file"),
    path("underside/", views.underside, name="underside"),
    path("done/", views.done, name="done"),
]
