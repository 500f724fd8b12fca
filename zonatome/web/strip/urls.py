"""Addresses of the strip step."""

from django.urls import path

from zonatome.web.strip.views import pdfs
from zonatome.web.strip.views import record as views

app_name = "strip"
urlpatterns = [
    path("", views.home, name="home"),
    path("off/", views.take_off, name="off"),
    path("undo/", views.undo, name="undo"),
    path("over/", views.lies_over, name="over"),
    path("reach/", views.reach, name="reach"),
    path("way/", views.pull_way, name="way"),
    path("timer/", views.timer, name="timer"),
    path("spells/<int:pk>/", views.spell, name="spell"),
    path("bags/", views.bag, name="bag"),
    path("bags/<int:bag>/drop/", views.drop_bag, name="drop_bag"),
    path("bags.pdf", pdfs.bag_labels, name="bag_labels"),
    path("panels.pdf", pdfs.panel_labels, name="panel_labels"),
    path("record.pdf", pdfs.record, name="record_pdf"),
    path("set/", views.set_piece, name="set"),
    path("look/", views.look, name="look_first"),
    path("spoken/<int:pk>/", views.spoken, name="spoken"),
    path("spoken/<int:pk>/drop/", views.drop_spoken, name="drop_spoken"),
    path("parts/<slug:key>/", views.write, name="write"),
    path("parts/<slug:key>/marked/", views.mark_all, name="mark_all"),
    path("parts/<slug:key>/keep/", views.keep, name="keep"),
    path("parts/<slug:key>/photos/", views.hand_photos, name="photos"),
    path("parts/<slug:key>/photo/", views.add_photo, name="photo"),
    path("parts/<slug:key>/speak/", views.speak, name="speak"),
    path("look/<slug:key>/", views.look, name="look"),
]
