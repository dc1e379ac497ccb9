"""Addresses of units that hold temperatures."""

from django.urls import path

from skavit.heating.pages.rooms.views import rooms
from skavit.heating.pages.unit import views

urlpatterns = [
    path("units/<int:pk>/heat/zones/<int:index>/remove/", views.zone_remove, name="zone-remove"),
    path("units/<int:pk>/heat/zones/add/", views.zone_add, name="zone-add"),
    path("units/<int:pk>/heat/zones/copy/", views.zone_copy, name="zone-copy"),
    path("units/<int:pk>/heat/rooms/", rooms, name="heat-rooms"),
]
