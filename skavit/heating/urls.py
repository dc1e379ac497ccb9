"""Addresses of units that hold temperatures."""

from django.urls import path

from skavit.heating import views

urlpatterns = [
    path("units/<int:pk>/heat/zones/<int:index>/remove/", views.zone_remove, name="zone-remove"),
    path("units/<int:pk>/heat/zones/add/", views.zone_add, name="zone-add"),
    path("units/<int:pk>/heat/zones/copy/", views.zone_copy, name="zone-copy"),
    path("units/<int:pk>/heat/rooms/", views.rooms, name="heat-rooms"),
]
