"""Addresses of the fasten step."""

from django.urls import path

from zonatome.web.fasten import views

app_name = "fasten"
urlpatterns = [
    path("", views.home, name="home"),
    path("<slug:key>/", views.panel, name="panel"),
    path("<slug:key>/choose/", views.choose, name="choose"),
    path("<slug:key>/holes/", views.add_hole, name="hole"),
    path("<slug:key>/holes/<int:pk>/remove/", views.remove_hole, name="remove_hole"),
    path("<slug:key>/photo/", views.add_photo, name="photo"),
    path("<slug:key>/do/<slug:what>/", views.act, name="act"),
    path("<slug:key>/done/", views.done, name="done"),
]
