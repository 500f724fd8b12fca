"""Addresses of the cloth store."""

from django.urls import path

from zonatome.web.lay import views

app_name = "store"
urlpatterns = [path("", views.store, name="home"), path("<int:pk>/", views.edit_cloth, name="edit")]
