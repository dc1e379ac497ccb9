"""Addresses of units."""

from django.urls import path

from skavit.units.pages.as_found import views as as_found
from skavit.units.pages.clock import views as clock
from skavit.units.pages.files import views as files
from skavit.units.pages.handover import views as handover
from skavit.units.pages.holidays import views as holidays
from skavit.units.pages.new import views as new
from skavit.units.pages.options import views as options
from skavit.units.pages.settings import views as settings
from skavit.units.pages.sheet import views as sheet
from skavit.units.pages.unit import views as unit

urlpatterns = [
    path("sites/<int:site_pk>/units/new/", new.unit_new, name="unit-new"),
    path("units/<int:pk>/", unit.unit_page, name="unit"),
    path("units/<int:pk>/searched/", unit.searched, name="searched"),
    path("units/<int:pk>/day/", unit.day, name="day"),
    path("units/<int:pk>/rows/<slug:place>/", unit.row, name="row"),
    path("units/<int:pk>/rows/<slug:place>/preview/", unit.preview, name="preview"),
    path("units/<int:pk>/rows/<slug:place>/<slug:action>/", unit.row_action, name="row-action"),
    path("units/<int:pk>/by-hand/", unit.by_hand_add, name="by-hand-add"),
    path("units/<int:pk>/by-hand/<int:index>/remove/", unit.by_hand_remove, name="by-hand-remove"),
    path("units/<int:pk>/fit/", unit.fit, name="fit"),
    path("units/<int:pk>/options/", options.options, name="options"),
    path("units/<int:pk>/options/take/", options.option_take, name="option-take"),
    path("units/<int:pk>/options/ask/", options.options_ask, name="options-ask"),
    path("units/<int:pk>/holidays/", holidays.holidays, name="holidays"),
    path("units/<int:pk>/handover/", handover.handover, name="handover"),
    path("units/<int:pk>/remedy/", unit.remedy, name="remedy"),
    path("units/<int:pk>/meant-so/", unit.mean_so, name="mean-so"),
    path("units/<int:pk>/meant-so/back/", unit.mean_no_longer, name="mean-no-longer"),
    path("units/<int:pk>/undo/", unit.undo, name="undo"),
    path("units/<int:pk>/redo/", unit.redo, name="redo"),
    path("units/<int:pk>/clock/", clock.clock, name="unit-clock"),
    path("units/<int:pk>/clock/keep/", clock.clock_keep, name="clock-keep"),
    path("units/<int:pk>/as-found/", as_found.as_found, name="as-found"),
    path("units/<int:pk>/as-found/keep/", as_found.as_found_keep, name="as-found-keep"),
    path("units/<int:pk>/as-found/<int:record_pk>/", as_found.as_found_year, name="as-found-year"),
    path("units/<int:pk>/as-found/<int:record_pk>/take/", as_found.as_found_take, name="as-found-take"),
    path("units/<int:pk>/edit/", settings.unit_edit, name="unit-edit"),
    path("units/<int:pk>/kind/", settings.kind, name="unit-kind"),
    path("units/<int:pk>/behaviour/", settings.behaviour, name="behaviour"),
    path("units/<int:pk>/sun/", settings.sun, name="sun"),
    path("units/<int:pk>/unit.json", files.export, name="export"),
    path("units/<int:pk>/import/", files.import_plan, name="import"),
    path("units/<int:pk>/sheet/", sheet.sheet, name="sheet"),
    path("units/sheets/pdf/", sheet.sheets_pdf, name="sheets-pdf"),
    path("units/<int:pk>/sheet/pdf/", sheet.sheet_pdf, name="sheet-pdf"),
    path("units/keep.js", sheet.keep, name="keep"),
    path("units/<int:pk>/sheet/tick/", sheet.tick, name="tick"),
    path("units/<int:pk>/sheet/clear/", sheet.ticks_clear, name="ticks-clear"),
    path("plan-schema.json", files.schema, name="schema"),
]
