"""All addresses: the rack, then a room a step under each tag."""

from django.urls import include, path

from zonatome.web.demo.try_out import try_out
from zonatome.web.rack.login import sign_in
from zonatome.web.round.views import kind as kind_in_the_round
from zonatome.web.serving import phone
from zonatome.web.serving.views import take_copy
from zonatome.web.shop.views import client, gather
from zonatome.web.trace.views.photos import mat

urlpatterns = [
    path("login/", sign_in, name="login"),
    path("", include("zonatome.web.rack.urls")),
    path("tags/<int:number>/survey/", include("zonatome.web.survey.urls")),
    path("tags/<int:number>/strip/", include("zonatome.web.strip.urls")),
    path("tags/<int:number>/trace/", include("zonatome.web.trace.urls")),
    path("tags/<int:number>/lay/", include("zonatome.web.lay.urls")),
    path("tags/<int:number>/pad/", include("zonatome.web.pad.urls")),
    path("tags/<int:number>/fasten/", include("zonatome.web.fasten.urls")),
    path("tags/<int:number>/trim/", include("zonatome.web.trim.urls")),
    path("tags/<int:number>/finish/", include("zonatome.web.finish.urls")),
    path("tags/<int:number>/round/", include("zonatome.web.round.urls")),
    path("", include("zonatome.web.rehearse.urls")),
    path("kinds/<str:key>.svg", kind_in_the_round, name="kind_in_the_round"),
    path("tags/<int:number>/money/", include("zonatome.web.shop.urls")),
    path("workroom/tools/", gather.tools, name="tools"),
    path("record/", include("zonatome.web.record.urls")),
    path("stock/", include("zonatome.web.stock.urls")),
    path("fortnight/", include("zonatome.web.fortnight.urls")),
    path("workroom/copy/", take_copy, name="take_copy"),
    path("quote/<str:token>/", client.home, name="client_quote"),
    path("quote/<str:token>/quote.pdf", client.paper, name="client_quote_pdf"),
    path("quote/<str:token>/<int:pk>.jpg", client.photo, name="client_quote_photo"),
    path("try-out/", try_out, name="try_out"),
    path("markers.pdf", mat, name="markers"),
    path("phone/", phone.phone, name="phone"),
    path("come-in/<str:code>/", phone.come_in, name="come_in"),
    path("workroom/rules/", include("zonatome.web.shop.house_rules_urls")),
    path("cloths/", include("zonatome.web.lay.store_urls")),
    path("saved/", include("zonatome.web.strip.store_urls")),
]
handler404 = "zonatome.web.rack.views.not_found"
handler500 = "zonatome.web.rack.views.broken"
handler403 = "zonatome.web.rack.views.refused"
