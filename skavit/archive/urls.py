"""Addresses of the archive."""

from django.urls import path

from skavit.archive import views

urlpatterns = [
    path("archive/", views.archive_page, name="archive"),
    path("archive/<slug:what>/<int:pk>/<slug:act>/", views.act, name="archive-act"),
]
