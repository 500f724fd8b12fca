"""Addresses of the survey."""

from django.urls import path

from zonatome.web.survey import views

app_name = "survey"
urlpatterns = [path("", views.home, name="home"), path("find/", views.find, name="find"), path("photo/", views.add_photo, name="photo")]
