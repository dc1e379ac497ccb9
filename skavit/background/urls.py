"""Addresses of background work."""

from django.urls import path

from skavit.background import views

urlpatterns = [
    path("jobs/<int:pk>/", views.job, name="job"),
    path("jobs/<int:pk>/cancel/", views.job_cancel, name="job-cancel"),
    path("jobs/<int:pk>/file/", views.job_answer, name="job-answer"),
]
