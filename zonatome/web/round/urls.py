"""Addresses of the furniture in the round."""

from django.urls import path

from zonatome.web.round import views

app_name = "round"
urlpatterns = [
    path("", views.home, name="home"),
    path("picture.svg", views.picture, name="picture"),
    path("tag.svg", views.small, name="tag"),
    path("furniture.glb", views.model, name="model"),
    path("measures/", views.measures, name="measures"),
]
