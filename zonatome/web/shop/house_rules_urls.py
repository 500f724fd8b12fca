"""Address of the workroom's own rules."""

from django.urls import path

from zonatome.web.shop.views import house_rules

app_name = "house_rules"
urlpatterns = [path("", house_rules.home, name="home")]
