"""Addresses of the pad step."""

from django.urls import path

from zonatome.web.pad import views

app_name = "pad"
urlpatterns = [
    path("", views.home, name="home"),
    path("glued/", views.glued, name="glued"),
    path("waits/<int:pk>/end/", views.end_wait, name="end_wait"),
    path("foam/keep/", views.keep_foam, name="keep_foam"),
    path("foam/undo/", views.undo_foam, name="undo_foam"),
    path("foam/take/", views.take_foam, name="take_foam"),
    path("foam/<int:pk>/drop/", views.drop_foam, name="drop_foam"),
    path("foam/<int:which>/cut-sheet.<slug:kind>", views.foam_sheet, name="foam_sheet"),
    path("<slug:key>/", views.panel, name="panel"),
    path("<slug:key>/change/", views.change, name="change"),
    path("<slug:key>/tried/", views.tried, name="tried"),
    path("<slug:key>/undo/", views.undo, name="undo"),
    path("<slug:key>/board/", views.measure, name="board"),
    path("<slug:key>/layer/<int:place>.<slug:kind>", views.template, name="template"),
]
