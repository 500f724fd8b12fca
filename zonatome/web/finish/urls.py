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
    path("frame/", views.set_frame, name="frame"),
    path("frame/coat/", views.coat, name="coat"),
    path("frame/done/", views.coat_done, name="coat_done"),
    path("leaving/", views.leaving, name="leaving"),
    path("certificate/", views.certificate, name="certificate"),
    path("hand-over.pdf", views.hand_over, name="hand_over"),
    path("go-home/", views.go_home, name="go_home"),
    path("come-back/", views.come_back, name="come_back"),
]
