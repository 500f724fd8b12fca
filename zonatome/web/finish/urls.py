"""Addresses of the finish step."""

from django.urls import path

from zonatome.web.finish import views

app_name = "finish"
urlpatterns = [
    path("", views.home, name="home"),
    path("tick/<slug:key>/", views.tick, name="tick"),
    path("parts/<slug:key>/", views.part, name="part"),
    path("bags/<int:bag>/", views.bag, name="bag"),
    path("all-on/", views.all_on, name="all_on"),
    path("photo/", views.add_photo, name="photo"),
    path("go-home/", views.go_home, name="go_home"),
    path("come-back/", views.come_back, name="come_back"),
]
