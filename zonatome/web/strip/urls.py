"""Addresses of the strip step."""

from django.urls import path

from zonatome.web.strip import views

app_name = "strip"
urlpatterns = [path("", views.home, name="home"), path("off/", views.take_off, name="off"), path("undo/", views.undo, name="undo")]
