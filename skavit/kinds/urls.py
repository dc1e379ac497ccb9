"""Addresses of kinds."""

from django.urls import path

from skavit.kinds import views

urlpatterns = [
    path("kinds/", views.library, name="kinds"),
    path("kinds/import/", views.import_kind, name="kind-import"),
    path("kinds/schema.json", views.schema, name="kind-schema"),
    path("kinds/own/<int:pk>/", views.own, name="kind-own"),
    path("kinds/own/<int:pk>/edit/", views.edit, name="kind-edit"),
    path("kinds/own/<int:pk>/edit/<slug:part>/", views.edit, name="kind-edit-part"),
    path("kinds/own/<int:pk>/play/", views.own_play, name="kind-own-play"),
    path("kinds/own/<int:pk>/order/", views.order, name="kind-order"),
    path("kinds/own/<int:pk>/kind.json", views.own_file, name="kind-own-file"),
    path("kinds/<slug:slug>/", views.shipped, name="kind"),
    path("kinds/<slug:slug>/play/", views.shipped_play, name="kind-play"),
    path("kinds/<slug:slug>/copy/", views.copy, name="kind-copy"),
    path("kinds/<slug:slug>/kind.json", views.shipped_file, name="kind-file"),
]
