"""Addresses of the cloth store."""

from django.urls import path

from zonatome.web.lay import store

app_name = "store"
urlpatterns = [
    path("", store.store, name="home"),
    path("<int:pk>/", store.cloth, name="cloth"),
    path("<int:pk>/pieces/", store.add_remnant, name="add"),
    path("<int:pk>/pieces/photo/", store.remnant_from_photo, name="photo"),
    path("<int:pk>/drawing/", store.set_tile, name="set_tile"),
    path("<int:pk>/drawing/find/", store.find_repeat, name="find_repeat"),
    path("<int:pk>/drawing.jpg", store.tile, name="tile"),
    path("pieces/<int:pk>/", store.remnant, name="remnant"),
    path("pieces/<int:pk>/mark/", store.mark_remnant, name="mark"),
    path("pieces/<int:pk>/drop/", store.drop_remnant, name="drop"),
]
