"""Addresses of what is due."""

from django.urls import path

from skavit.due.pages.day.views import day
from skavit.due.pages.listed.views import due
from skavit.due.pages.month.views import month
from skavit.due.pages.plan.views import plan

urlpatterns = [
    path("due/", due, name="due"),
    path("due/month/", month, name="due-month"),
    path("due/day/", day, name="due-day"),
    path("units/<int:pk>/plan-visit/", plan, name="plan-visit"),
]
