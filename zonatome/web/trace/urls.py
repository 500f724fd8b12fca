"""Addresses of the trace step."""

from django.urls import path

from zonatome.web.trace import views

app_name = "trace"
urlpatterns = [
    path("", views.home, name="home"),
    path("<slug:key>/", views.panel, name="panel"),
    path("<slug:key>/make/<slug:way>/", views.make, name="make"),
    path("<slug:key>/edge/<slug:edge>/", views.hold_edge, name="edge"),
    path("<slug:key>/cloth/", views.choose_cloth, name="cloth"),
    path("<slug:key>/piece.json", views.piece_file, name="piece"),
]
