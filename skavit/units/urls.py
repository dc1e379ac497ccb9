"""Addresses of units."""

from django.urls import path

from skavit.units import look_views, sheet_views, views

urlpatterns = [
    path("sites/<int:site_pk>/units/new/", views.unit_new, name="unit-new"),
    path("units/<int:pk>/", views.unit_page, name="unit"),
    path("units/<int:pk>/night/", views.night, name="night"),
    path("units/<int:pk>/rows/<slug:place>/", views.row, name="row"),
    path("units/<int:pk>/windows/<int:channel>/<int:index>/remove/", views.window_remove, name="window-remove"),
    path("units/<int:pk>/entries/<int:index>/remove/", views.entry_remove, name="entry-remove"),
    path("units/<int:pk>/channels/", views.channel_save, name="channel-add"),
    path("units/<int:pk>/channels/<int:channel>/", views.channel_save, name="channel-rename"),
    path("units/<int:pk>/channels/<int:channel>/remove/", views.channel_remove, name="channel-remove"),
    path("units/<int:pk>/fit/", views.fit, name="fit"),
    path("units/<int:pk>/remedy/", views.remedy, name="remedy"),
    path("units/<int:pk>/undo/", views.undo, name="undo"),
    path("units/<int:pk>/redo/", views.redo, name="redo"),
    path("units/<int:pk>/clock/", look_views.clock_page, name="unit-clock"),
    path("units/<int:pk>/clock/keep/", look_views.clock_keep, name="clock-keep"),
    path("units/<int:pk>/found/", look_views.as_found, name="found"),
    path("units/<int:pk>/found/keep/", look_views.found_keep, name="found-keep"),
    path("units/<int:pk>/found/<int:found_pk>/", look_views.found_look, name="found-look"),
    path("units/<int:pk>/found/<int:found_pk>/take/", look_views.found_take, name="found-take"),
    path("units/<int:pk>/kind/", views.kind, name="unit-kind"),
    path("units/<int:pk>/behaviour/", views.behaviour, name="behaviour"),
    path("units/<int:pk>/sun/", views.sun, name="sun"),
    path("units/<int:pk>/plan.json", views.export, name="export"),
    path("units/<int:pk>/import/", views.import_plan, name="import"),
    path("units/<int:pk>/sheet/", sheet_views.sheet, name="sheet"),
    path("units/<int:pk>/sheet.pdf", sheet_views.sheet_pdf, name="sheet-pdf"),
    path("units/keep.js", sheet_views.keep, name="keep"),
    path("units/<int:pk>/sheet/tick/", sheet_views.tick, name="tick"),
    path("units/<int:pk>/sheet/clear/", sheet_views.ticks_clear, name="ticks-clear"),
    path("plan-schema.json", views.schema, name="schema"),
]
