"""Addresses of visits."""

from django.urls import path

from skavit.visits.pages.record import views as record
from skavit.visits.pages.trouble import views as trouble
from skavit.visits.pages.visit import views as visit

urlpatterns = [
    path("units/<int:pk>/trouble/", trouble.trouble, name="trouble"),
    path("units/<int:pk>/visit/", visit.visit, name="visit"),
    path("units/<int:pk>/visit/save/", visit.visit_save, name="visit-save"),
    path("units/<int:pk>/visit/photos/", visit.photo_add, name="photo-add"),
    path("units/<int:pk>/visits/<int:record_pk>/", visit.visit_shown_page, name="visit-shown"),
    path("units/<int:pk>/visits/<int:record_pk>/plan.json", record.visit_plan, name="visit-plan"),
    path("units/<int:pk>/record/", record.record, name="record"),
    path("units/<int:pk>/notes/photos/", record.note_add, name="note-add"),
    path("units/<int:pk>/notes/<int:record_pk>/away/", record.note_away, name="note-away"),
    path("units/<int:pk>/compare/", record.compare, name="compare"),
    path("units/<int:pk>/photos/<int:record_pk>.jpg", visit.photo, name="photo"),
]
