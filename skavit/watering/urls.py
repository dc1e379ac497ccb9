"""Addresses of watering units."""

from django.urls import path

from skavit.watering import views

urlpatterns = [
    path("units/<int:pk>/water/night/", views.night, name="water-night"),
    path("units/<int:pk>/water/rows/<slug:place>/", views.row, name="water-row"),
    path("units/<int:pk>/water/rows/<slug:place>/preview/", views.preview, name="water-preview"),
    path("units/<int:pk>/water/stations/<int:index>/remove/", views.station_remove, name="station-remove"),
    path("units/<int:pk>/water/stations/<int:index>/copy/", views.station_copy, name="station-copy"),
    path("units/<int:pk>/water/programs/<int:index>/remove/", views.program_remove, name="program-remove"),
    path("units/<int:pk>/water/programs/<int:index>/copy/", views.program_copy, name="program-copy"),
    path("units/<int:pk>/water/fit/", views.fit, name="water-fit"),
    path("units/<int:pk>/water/ways/", views.ways, name="water-ways"),
    path("units/<int:pk>/water/walk/", views.walk, name="water-walk"),
    path("units/<int:pk>/water/built-in/", views.curve, name="water-curve"),
    path("units/<int:pk>/water/supply/", views.supply, name="supply"),
    path("units/<int:pk>/water/saved/", views.saved, name="saved"),
    path("units/<int:pk>/water/by-hand/", views.by_hand_add, name="water-by-hand-add"),
    path("units/<int:pk>/water/by-hand/<int:index>/remove/", views.by_hand_remove, name="water-by-hand-remove"),
]
