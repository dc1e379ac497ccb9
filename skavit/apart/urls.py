"""The address of answers that are worked out."""

from django.urls import path

from skavit.apart import views

urlpatterns = [path("working/<str:secret>/", views.working, name="working")]
