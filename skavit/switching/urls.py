"""Addresses of units that switch."""

from django.urls import path

from skavit.switching.pages.seasonal import views as keyings
from skavit.switching.pages.unit import views

urlpatterns = [
    path("units/<int:pk>/pin/", views.pin, name="unit-pin"),
    path("units/<int:pk>/windows/<int:channel>/program/", views.usual_program_add, name="usual-program-add"),
    path("units/<int:pk>/channels/", views.channel_save, name="channel-add"),
    path("units/<int:pk>/channels/<int:channel>/", views.channel_save, name="channel-rename"),
    path("units/<int:pk>/channels/<int:channel>/copy/", views.channel_copy, name="channel-copy"),
    path("units/<int:pk>/channels/<int:channel>/remove/", views.channel_remove, name="channel-remove"),
    path("units/<int:pk>/keyings/", keyings.keyings, name="keyings"),
    path("units/<int:pk>/keyings/add/", keyings.keying_add, name="keying-add"),
    path("units/<int:pk>/keyings/<int:keying>/remove/", keyings.keying_remove, name="keying-remove"),
]
