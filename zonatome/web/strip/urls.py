"""Addresses of the strip step."""

from django.urls import path

from zonatome.web.strip.views import look, pdfs, record, saved

app_name = "strip"
urlpatterns = [
    path("", record.home, name="home"),
    path("off/", record.take_off, name="off"),
    path("undo/", record.undo, name="undo"),
    path("over/", record.lies_over, name="over"),
    path("reach/", record.reach, name="reach"),
    path("way/", record.pull_way, name="way"),
    path("timer/", record.timer, name="timer"),
    path("spells/<int:pk>/", record.spell, name="spell"),
    path("bags/", saved.bag, name="bag"),
    path("bags/<int:bag>/drop/", saved.drop_bag, name="drop_bag"),
    path("bags.pdf", pdfs.bag_labels, name="bag_labels"),
    path("panels.pdf", pdfs.panel_labels, name="panel_labels"),
    path("record.pdf", pdfs.record, name="record_pdf"),
    path("set/", look.set_piece, name="set"),
    path("look/", look.look, name="look_first"),
    path("spoken/<int:pk>/", saved.spoken, name="spoken"),
    path("spoken/<int:pk>/drop/", saved.drop_spoken, name="drop_spoken"),
    path("parts/<slug:key>/", record.write, name="write"),
    path("parts/<slug:key>/marked/", record.mark_all, name="mark_all"),
    path("parts/<slug:key>/keep/", saved.keep, name="keep"),
    path("parts/<slug:key>/photos/", saved.hand_photos, name="photos"),
    path("parts/<slug:key>/photo/", saved.add_photo, name="photo"),
    path("parts/<slug:key>/speak/", saved.speak, name="speak"),
    path("look/<slug:key>/", look.look, name="look"),
]
