"""Addresses of sites."""

from django.urls import path

from skavit.sites import views

urlpatterns = [
    path("sites/new/", views.site_edit, name="site-new"),
    path("sites/<int:pk>/", views.site_page, name="site"),
    path("sites/<int:pk>/edit/", views.site_edit, name="site-edit"),
]
