"""Addresses of the survey."""

from django.urls import path

from zonatome.web.survey import views

app_name = "survey"
urlpatterns = [
    path("", views.home, name="home"),
    path("find/", views.find, name="find"),
    path("measure/", views.measure, name="measure"),
    path("glued/", views.glued, name="glued"),
    path("seen/", views.seen, name="seen"),
    path("photo/", views.add_photo, name="photo"),
    path("photo/<int:pk>/", views.pin_photo, name="pin"),
    path("panels/", views.panels, name="panels"),
    path("panels/<slug:what>/", views.change, name="change"),
    path("restyle/", views.restyle, name="restyle"),
    path("restyle/<slug:what>/", views.do_restyle, name="do_restyle"),
]
