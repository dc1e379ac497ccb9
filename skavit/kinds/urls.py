"""Addresses of kinds."""

from django.urls import path

from skavit.kinds.pages.edit.views import edit
from skavit.kinds.pages.kind import views as kind
from skavit.kinds.pages.library import views as library
from skavit.kinds.pages.play.views import own_play, shipped_play

urlpatterns = [
    path("kinds/", library.library, name="kinds"),
    path("kinds/import/", library.import_kind, name="kind-import"),
    path("kinds/schema.json", library.schema, name="kind-schema"),
    path("kinds/own/<int:pk>/", kind.own, name="kind-own"),
    path("kinds/own/<int:pk>/edit/", edit, name="kind-edit"),
    path("kinds/own/<int:pk>/edit/<slug:part>/", edit, name="kind-edit-part"),
    path("kinds/own/<int:pk>/play/", own_play, name="kind-own-play"),
    path("kinds/own/<int:pk>/order/", kind.order, name="kind-order"),
    path("kinds/own/<int:pk>/kind.json", kind.own_file, name="kind-own-file"),
    path("kinds/<slug:slug>/", kind.shipped, name="kind"),
    path("kinds/<slug:slug>/play/", shipped_play, name="kind-play"),
    path("kinds/<slug:slug>/copy/", library.copy, name="kind-copy"),
    path("kinds/<slug:slug>/kind.json", kind.shipped_file, name="kind-file"),
]
