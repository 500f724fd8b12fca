"""Addresses of time and money."""

from django.urls import path

from zonatome.web.shop.views import gather, quotes
from zonatome.web.shop.views import money as views

app_name = "shop"
urlpatterns = [
    path("", views.home, name="home"),
    path("waits/", views.waits_for, name="waits"),
    path("gather/", gather.home, name="gather"),
    path("gather/tick/", gather.tick, name="tick_gathered"),
    path("old-piece/", gather.old_piece, name="old_piece"),
    path("quote/", quotes.home, name="quote"),
    path("quote/send/", quotes.send, name="send_quote"),
    path("quote/<int:pk>/withdraw/", quotes.take_back, name="withdraw"),
    path("quote/<int:pk>/quote.pdf", quotes.paper, name="quote_pdf"),
]
