"""Addresses of open formats."""

from django.urls import path

from skavit.exchange import views

urlpatterns = [
    path("units/<int:pk>/tables/<slug:part>.csv", views.unit_table, name="unit-table"),
    path("sites/<int:pk>/sun.csv", views.sun_table, name="sun-table"),
    path("due/due.csv", views.due_table, name="due-table"),
    path("exchange/", views.exchange, name="exchange"),
    path("exchange/sites/import/", views.sites_look, name="sites-look"),
    path("exchange/sites/take/import/", views.sites_take, name="sites-take"),
    path("exchange/keys/", views.key_make, name="key-make"),
    path("exchange/keys/<int:pk>/back/", views.key_back, name="key-back"),
    path("exchange/archive/", views.crew_archive, name="crew-archive"),
    path("feeds/<str:secret>.ics", views.feed, name="feed"),
]
