"""Addresses of the round, of sites and of finding."""

from django.urls import path

from skavit.round import views

urlpatterns = [
    path("", views.home, name="round"),
    path("find/", views.find, name="find"),
    path("sites/<int:pk>/", views.site_page, name="site"),
]
