"""The address of who changed what."""

from django.urls import path

from skavit.changes import views

urlpatterns = [path("changes/", views.changes, name="changes")]
