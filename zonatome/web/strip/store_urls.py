"""Addresses of the store of saved things."""

from django.urls import path

from zonatome.web.strip.views import record as views

app_name = "kept"
urlpatterns = [path("", views.store, name="home"), path("<int:pk>/", views.use_thing, name="use")]
