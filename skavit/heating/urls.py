"""Addresses of units that hold temperatures."""

from django.urls import path

from skavit.heating import views

urlpatterns = [
    path("units/<int:pk>/heat/day/", views.day, name="heat-day"),
    path("units/<int:pk>/heat/rows/<slug:place>/", views.row, name="heat-row"),
    path("units/<int:pk>/heat/rows/<slug:place>/preview/", views.preview, name="heat-preview"),
    path("units/<int:pk>/heat/rows/<slug:place>/remove/", views.row_remove, name="heat-row-remove"),
    path("units/<int:pk>/heat/zones/<int:index>/remove/", views.zone_remove, name="zone-remove"),
    path("units/<int:pk>/heat/zones/add/", views.zone_add, name="zone-add"),
    path("units/<int:pk>/heat/zones/copy/", views.zone_copy, name="zone-copy"),
    path("units/<int:pk>/heat/fit/", views.fit, name="heat-fit"),
    path("units/<int:pk>/heat/ways/", views.ways, name="heat-ways"),
    path("units/<int:pk>/heat/rooms/", views.rooms, name="heat-rooms"),
    path("units/<int:pk>/heat/by-hand/", views.by_hand_add, name="heat-by-hand-add"),
    path("units/<int:pk>/heat/by-hand/<int:index>/remove/", views.by_hand_remove, name="heat-by-hand-remove"),
]
