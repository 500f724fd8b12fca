"""Addresses of the trace step."""

from django.urls import path

from zonatome.web.trace.views import files, photos
from zonatome.web.trace.views import panels as views

app_name = "trace"
urlpatterns = [
    path("", views.home, name="home"),
    path("mat.pdf", photos.mat, name="mat"),
    path("ready/", views.ready, name="ready"),
    path("looked-at/", views.looked_at, name="looked_at"),
    path("<slug:key>/photo/", photos.desk, name="photo"),
    path("<slug:key>/photo/take/", photos.take, name="take"),
    path("<slug:key>/photo/bench/", photos.bench, name="bench"),
    path("<slug:key>/photo/tool/<slug:tool>/", photos.tool, name="tool"),
    path("<slug:key>/photo/keep/", photos.keep, name="keep_photo"),
    path("<slug:key>/photo/flat.jpg", photos.flat, name="flat"),
    path("<slug:key>/", views.panel, name="panel"),
    path("<slug:key>/tried/<slug:way>/", views.tried, name="tried"),
    path("<slug:key>/make/<slug:way>/", views.make, name="make"),
    path("<slug:key>/edge/<slug:edge>/", views.hold_edge, name="edge"),
    path("<slug:key>/cloth/", views.choose_cloth, name="cloth"),
    path("<slug:key>/do/<slug:act>/", views.do, name="do"),
    path("<slug:key>/undo/", views.undo, name="undo"),
    path("<slug:key>/file/<slug:kind>/", files.shape_file, name="file"),
]
