"""Addresses of the stock."""

from django.urls import path

from zonatome.web.stock import views

app_name = "stock"
urlpatterns = [
    path("", views.home, name="home"),
    path("order/", views.order, name="order"),
    path("order-all/", views.order_all, name="order_all"),
    path("came/<int:pk>/", views.came, name="came"),
    path("orders/<int:pk>/back/", views.back, name="back"),
    path("count/", views.count, name="count"),
    path("take/<int:number>/", views.take, name="take"),
    path("stock.csv", views.as_csv, name="csv"),
]
