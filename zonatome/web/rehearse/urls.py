"""Addresses of rehearsals: of a panel, and of practice pieces."""

from django.urls import path

from zonatome.web.rehearse import views

app_name = "rehearse"
urlpatterns = [
    path("tags/<int:number>/rehearse/<slug:key>/", views.panel, name="panel"),
    path("tags/<int:number>/rehearse/<slug:key>/do/", views.do_panel, name="do"),
    path("tags/<int:number>/rehearse/<slug:key>/orders/", views.orders_now, name="orders"),
    path("tags/<int:number>/rehearse/<slug:key>/fault/", views.fault, name="fault"),
    path("practice/", views.practice_home, name="practice"),
    path("practice/<slug:key>/", views.piece, name="piece"),
    path("practice/<slug:key>/do/", views.do_piece, name="do_piece"),
    path("practice/<slug:key>/score/", views.score, name="score"),
]
