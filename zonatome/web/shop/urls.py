"""Addresses of time and money."""

from django.urls import path

from zonatome.web.shop.views import money as views

app_name = "shop"
urlpatterns = [path("", views.home, name="home"), path("waits/", views.waits_for, name="waits")]
