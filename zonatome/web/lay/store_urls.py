"""Addresses of the cloth store."""

from django.urls import path

from zonatome.web.lay.views import remnant_photo, store

app_name = "store"
urlpatterns = [
    path("", store.store, name="home"),
    path("<int:pk>/", store.cloth, name="cloth"),
    path("<int:pk>/pieces/", store.add_remnant, name="add"),
    path("<int:pk>/pieces/photo/", remnant_photo.take, name="photo"),
    path("<int:pk>/drawing/", store.set_tile, name="set_tile"),
    path("<int:pk>/drawing/see/", store.see_repeat, name="see_repeat"),
    path("<int:pk>/drawing/find/", store.find_repeat, name="find_repeat"),
    path("<int:pk>/drawing.jpg", store.tile, name="tile"),
    path("pieces/<int:pk>/", store.remnant, name="remnant"),
    path("pieces/<int:pk>/outline/", remnant_photo.mend, name="mend"),
    path("pieces/<int:pk>/outline/keep/", remnant_photo.keep, name="keep_outline"),
    path("pieces/<int:pk>/outline/<slug:tool>/", remnant_photo.tool, name="tool"),
    path("pieces/<int:pk>/photo.jpg", remnant_photo.flat, name="flat"),
    path("pieces/<int:pk>/mark/", store.mark_remnant, name="mark"),
    path("<int:pk>/drop/", store.drop_cloth, name="drop_cloth"),
    path("pieces/<int:pk>/motif/", store.place_motif, name="motif"),
    path("pieces/<int:pk>/drop/", store.drop_remnant, name="drop"),
]
