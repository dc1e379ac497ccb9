"""Addresses for adding and changing sites."""

from django.urls import path

from skavit.sites import views

urlpatterns = [
    path("sites/cities/", views.cities, name="cities"),
    path("sites/zone/", views.zone, name="zone"),
    path("sites/new/", views.site_edit, name="site-new"),
    path("sites/<int:pk>/edit/", views.site_edit, name="site-edit"),
]
