"""Addresses of the store of saved things."""

from django.urls import path

from zonatome.web.strip.views import saved

app_name = "kept"
urlpatterns = [path("", saved.store, name="home"), path("<int:pk>/", saved.use_thing, name="use")]
