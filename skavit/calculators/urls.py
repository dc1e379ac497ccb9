"""Addresses of the calculators."""

from django.urls import path

from skavit.calculators import views

urlpatterns = [
    path("calculators/", views.index, name="calculators"),
    path("calculators/<slug:slug>/", views.calculator, name="calculator"),
]
