"""Addresses of the rack."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from zonatome.web.jobs import views

app_name = "jobs"


urlpatterns = [
    path("", views.rack, name="rack"),
    path("tags/new/", views.new_tag, name="new"),
    path("tags/<int:number>/edit/", views.edit_tag, name="edit"),
    path("tags/bring-in/", views.bring_in, name="bring_in"),
    path("tags/<int:number>/tag.zip", views.export, name="export"),
    path("workroom/", views.workroom, name="workroom"),
    path("tags/<int:number>/", views.next_step, name="next"),
    path("tags/<int:number>/photos/<int:pk>.jpg", views.photo, name="photo"),
    path("units/", views.set_units, name="units"),
    path("welcome/", views.welcome, name="welcome"),
    path("logout/", LogoutView.as_view(), name="logout"),
]
