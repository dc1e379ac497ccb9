"""Addresses of loads."""

from django.urls import path

from skavit.loads.pages.load import views

urlpatterns = [
    path("units/<int:pk>/loads/<int:channel>/", views.load, name="load"),
    path("units/<int:pk>/loads/<int:channel>/save/", views.save, name="load-save"),
    path("units/<int:pk>/loads/<int:channel>/preview/", views.preview, name="load-preview"),
    path("units/<int:pk>/loads/<int:channel>/mend/", views.take_remedy, name="load-mend"),
    path("units/<int:pk>/loads/<int:channel>/remove/", views.remove, name="load-remove"),
]
