"""Addresses of codes."""

from django.urls import path

from skavit.codes import views

urlpatterns = [
    path("units/<int:pk>/codes/", views.codes, name="codes"),
    path("units/<int:pk>/codes/keep/", views.code_keep, name="code-keep"),
    path("units/<int:pk>/codes/<int:record_pk>/show/", views.code_show, name="code-show"),
    path("units/<int:pk>/codes/<int:record_pk>/away/", views.code_away, name="code-away"),
]
