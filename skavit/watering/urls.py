"""Addresses of watering units."""

from django.urls import path

from skavit.watering.pages.curve.views import curve
from skavit.watering.pages.peak.views import peak, peak_csv
from skavit.watering.pages.saved.views import saved
from skavit.watering.pages.supply.views import supply
from skavit.watering.pages.walk.views import walk

urlpatterns = [
    path("units/<int:pk>/water/walk/", walk, name="water-walk"),
    path("units/<int:pk>/water/built-in/", curve, name="water-curve"),
    path("units/<int:pk>/water/supply/", supply, name="supply"),
    path("units/<int:pk>/water/saved/", saved, name="saved"),
    path("units/<int:pk>/water/peak-week/", peak, name="peak-week"),
    path("units/<int:pk>/water/peak-week.csv", peak_csv, name="peak-csv"),
]
