"""Addresses of watering units."""

from django.urls import path

from skavit.watering import views

urlpatterns = [
    path("units/<int:pk>/water/walk/", views.walk, name="water-walk"),
    path("units/<int:pk>/water/built-in/", views.curve, name="water-curve"),
    path("units/<int:pk>/water/supply/", views.supply, name="supply"),
    path("units/<int:pk>/water/saved/", views.saved, name="saved"),
]
