"""Addresses of the pad step."""

from django.urls import path

from zonatome.web.pad import views

app_name = "pad"
urlpatterns = [
    path("", views.home, name="home"),
    path("glued/", views.glued, name="glued"),
    path("waits/<int:pk>/end/", views.end_wait, name="end_wait"),
    path("<slug:key>/choose/", views.choose, name="choose"),
    path("<slug:key>/board/", views.measure, name="board"),
]
