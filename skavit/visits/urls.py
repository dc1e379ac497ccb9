"""Addresses of visits."""

from django.urls import path

from skavit.visits.pages.trouble import views as trouble

urlpatterns = [
    path("units/<int:pk>/trouble/", trouble.trouble, name="trouble"),
]
