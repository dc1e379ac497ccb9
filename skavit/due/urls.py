"""Addresses of what is due."""

from django.urls import path

from skavit.due import views

urlpatterns = [
    path("due/", views.due, name="due"),
    path("due/month/", views.month, name="due-month"),
    path("due/day/", views.day, name="due-day"),
    path("units/<int:pk>/plan-visit/", views.plan, name="plan-visit"),
]
