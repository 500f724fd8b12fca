"""Addresses of the rack."""

from django.contrib.auth.views import LogoutView
from django.urls import path

from zonatome.web.rack import clock, people, views

app_name = "jobs"


urlpatterns = [
    path("", views.rack, name="rack"),
    path("tags/new/", views.new_tag, name="new"),
    path("tags/<int:number>/edit/", views.edit_tag, name="edit"),
    path("tags/bring-in/", views.bring_in, name="bring_in"),
    path("tags/<int:number>/tag.zip", views.export, name="export"),
    path("tags/<int:number>/copy/", views.copy, name="copy"),
    path("tags/<int:number>/take-down/", views.down, name="take_down"),
    path("tags/<int:number>/hang-again/", views.up_again, name="hang_again"),
    path("tags/<int:number>/let-go/", views.gone_for_good, name="let_go"),
    path("taken-down/", views.taken_down_page, name="taken_down"),
    path("workroom/people/", people.people, name="people"),
    path("workroom/people/<int:pk>/", people.person, name="person"),
    path("password/", people.password, name="password"),
    path("workroom/", views.workroom, name="workroom"),
    path("tags/<int:number>/", views.next_step, name="next"),
    path("tags/<int:number>/photos/<int:pk>.jpg", views.photo, name="photo"),
    path("tags/<int:number>/clock/", clock.press, name="clock"),
    path("tags/<int:number>/log/", clock.home, name="log"),
    path("tags/<int:number>/log/took.svg", clock.plot, name="log_plot"),
    path("tags/<int:number>/log/rates/", clock.take_rates, name="take_rates"),
    path("tags/<int:number>/log/<int:pk>/", clock.entry, name="log_entry"),
    path("units/", views.set_units, name="units"),
    path("welcome/", views.welcome, name="welcome"),
    path("logout/", LogoutView.as_view(), name="logout"),
]
