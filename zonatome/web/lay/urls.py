"""Addresses of the lay step."""

from django.urls import path

from zonatome.web.lay import views

app_name = "lay"
urlpatterns = [
    path("", views.home, name="home"),
    path("choose/", views.choose, name="choose"),
    path("use/", views.use, name="use"),
    path("new-cloth/", views.new_cloth, name="new_cloth"),
    path("<int:pk>/", views.cloth, name="cloth"),
    path("<int:pk>/start/", views.start, name="start"),
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
    path("<int:pk>/cut-sheet/", views.sheet, name="sheet"),
    path("<int:pk>/cut-sheet/tick/", views.tick, name="tick"),
    path("<int:pk>/cut-sheet.pdf", views.sheet_pdf, name="sheet_pdf"),
    path("<int:pk>/lay.svg", views.lay_as_svg, name="svg"),
    path("<int:pk>/lay.json", views.lay_as_json, name="json"),
    path("<int:pk>/request.json", views.request_as_json, name="request_json"),
]
