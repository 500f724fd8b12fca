"""Addresses of rehearsals: of a panel, and of practice pieces."""

from django.urls import path

from zonatome.web.rehearse.views import boards, questions, seat

app_name = "rehearse"
urlpatterns = [
    path("tags/<int:number>/rehearse/<slug:key>/", boards.panel, name="panel"),
    path("tags/<int:number>/rehearse/<slug:key>/do/", boards.do_panel, name="do"),
    path("tags/<int:number>/rehearse/<slug:key>/orders/", boards.orders_now, name="orders"),
    path("tags/<int:number>/rehearse/<slug:key>/fault/", boards.fault, name="fault"),
    path("tags/<int:number>/rehearse/<slug:key>/seat/", seat.corners, name="corners"),
    path("tags/<int:number>/rehearse/<slug:key>/seat/photo/", seat.add_photo, name="add_photo"),
    path("tags/<int:number>/rehearse/<slug:key>/seat/keep/", seat.keep, name="keep_corners"),
    path("tags/<int:number>/rehearse/<slug:key>/seat/flat.jpg", seat.flat, name="flat_seat"),
    path("practice/", boards.practice_home, name="practice"),
    path("practice/questions/<slug:topic>/", questions.asked, name="question"),
    path("practice/questions/<slug:topic>/answer/", questions.answer, name="answer"),
    path("practice/questions/<slug:topic>/<int:number>.svg", questions.picture, name="question_picture"),
    path("practice/<slug:key>/", boards.piece, name="piece"),
    path("practice/<slug:key>/do/", boards.do_piece, name="do_piece"),
    path("practice/<slug:key>/score/", boards.score, name="score"),
]
