"""Addresses of the record."""

from django.urls import path

from zonatome.web.record import views

app_name = "record"
urlpatterns = [
    path("", views.home, name="home"),
    path("log.csv", views.log_csv, name="log_csv"),
    path("quotes.csv", views.quotes_csv, name="quotes_csv"),
]
