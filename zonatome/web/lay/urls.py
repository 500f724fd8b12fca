"""Addresses of the lay step."""

from django.urls import path

from zonatome.web.lay.views import buy, seen, set_up, sheets
from zonatome.web.lay.views import cloths as views

app_name = "lay"
urlpatterns = [
    path("", views.home, name="home"),
    path("choose/", views.choose, name="choose"),
    path("use/", views.use, name="use"),
    path("new-cloth/", views.new_cloth, name="new_cloth"),
    path("<int:pk>/", views.cloth, name="cloth"),
    path("<int:pk>/start/", views.start, name="start"),
    path("<int:pk>/easy/", views.take_easy, name="easy"),
    path("<int:pk>/stop/", views.stop, name="stop"),
    path("<int:pk>/moving/", views.moving, name="moving"),
    path("<int:pk>/trial/", views.trial, name="trial"),
    path("<int:pk>/trial/moving/", views.trial_moving, name="trial_moving"),
    path("<int:pk>/trial/start/", views.start_trial, name="start_trial"),
    path("<int:pk>/trial/take/", views.take_from_trial, name="take"),
    path("<int:pk>/hand/", views.by_hand, name="hand"),
    path("<int:pk>/hand/do/", views.hand_act, name="hand_act"),
    path("<int:pk>/rules/", views.set_rules, name="rules"),
    path("<int:pk>/put-away/", views.put_away, name="put_away"),
    path("<int:pk>/put-back/", views.put_back, name="put_back"),
    path("<int:pk>/seen/", seen.seen, name="seen"),
    path("<int:pk>/buy/", buy.buy, name="buy"),
    path("<int:pk>/buy/order/", buy.order, name="order"),
    path("<int:pk>/buy/came/<int:order>/", buy.came, name="came"),
    path("<int:pk>/buy/lay-on-it/", buy.lay_on_it, name="lay_on_it"),
    path("<int:pk>/buy/terms/", buy.take_terms, name="take_terms"),
    path("<int:pk>/buy/sample/", buy.sample, name="sample"),
    path("<int:pk>/from/", set_up.set_up, name="set_up"),
    path("<int:pk>/from/flaws/", set_up.mark, name="mark"),
    path("<int:pk>/from/held/", set_up.hold, name="hold"),
    path("<int:pk>/from/store/", set_up.take, name="take_from_store"),
    path("<int:pk>/from/tags/", set_up.together, name="together"),
    path("<int:pk>/alone/", set_up.lay_alone, name="alone"),
    path("<int:pk>/cut-sheet/", sheets.sheet, name="sheet"),
    path("<int:pk>/cut-sheet/tick/", sheets.tick, name="tick"),
    path("<int:pk>/cut-sheet/left-over/", sheets.keep_rest, name="keep_rest"),
    path("<int:pk>/cut-sheet.pdf", sheets.sheet_pdf, name="sheet_pdf"),
    path("<int:pk>/wall-sheet.pdf", sheets.wall_pdf, name="wall_pdf"),
    path("<int:pk>/cut-sheet.csv", sheets.sheet_csv, name="sheet_csv"),
    path("<int:pk>/lay.dxf", sheets.sheet_dxf, name="sheet_dxf"),
    path("<int:pk>/lay.svg", sheets.lay_as_svg, name="svg"),
    path("<int:pk>/lay.json", sheets.lay_as_json, name="json"),
    path("<int:pk>/request.json", sheets.request_as_json, name="request_json"),
]
