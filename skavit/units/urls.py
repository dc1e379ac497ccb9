"""Addresses of units."""

from django.urls import path

from skavit.units.pages.as_found import views as as_found
from skavit.units.pages.clock import views as clock
from skavit.units.pages.files import views as files
from skavit.units.pages.fits import views as fits
from skavit.units.pages.handover import views as handover
from skavit.units.pages.holidays import views as holidays
from skavit.units.pages.keyings import views as keyings
from skavit.units.pages.new import views as new
from skavit.units.pages.plan import by_hand_views as by_hand
from skavit.units.pages.plan import views as plan
from skavit.units.pages.settings import views as settings
from skavit.units.pages.sheet import views as sheet

urlpatterns = [
    path("sites/<int:site_pk>/units/new/", new.unit_new, name="unit-new"),
    path("units/<int:pk>/", plan.unit_page, name="unit"),
    path("units/<int:pk>/night/", plan.night, name="night"),
    path("units/<int:pk>/pin/", plan.pin, name="unit-pin"),
    path("units/<int:pk>/rows/<slug:place>/", plan.row, name="row"),
    path("units/<int:pk>/windows/<int:channel>/<int:index>/remove/", plan.window_remove, name="window-remove"),
    path("units/<int:pk>/rows/<slug:place>/preview/", plan.preview, name="preview"),
    path("units/<int:pk>/windows/<int:channel>/<int:index>/copy/", plan.window_copy, name="window-copy"),
    path("units/<int:pk>/windows/<int:channel>/program/", plan.usual_program_add, name="usual-program-add"),
    path("units/<int:pk>/entries/<int:index>/copy/", plan.entry_copy, name="entry-copy"),
    path("units/<int:pk>/entries/<int:index>/move/", plan.entry_move, name="entry-move"),
    path("units/<int:pk>/entries/<int:index>/remove/", plan.entry_remove, name="entry-remove"),
    path("units/<int:pk>/channels/", plan.channel_save, name="channel-add"),
    path("units/<int:pk>/channels/<int:channel>/", plan.channel_save, name="channel-rename"),
    path("units/<int:pk>/channels/<int:channel>/copy/", plan.channel_copy, name="channel-copy"),
    path("units/<int:pk>/channels/<int:channel>/remove/", plan.channel_remove, name="channel-remove"),
    path("units/<int:pk>/fit/", plan.fit, name="fit"),
    path("units/<int:pk>/fits/", fits.fits, name="fits"),
    path("units/<int:pk>/fits/ask/", fits.fits_ask, name="fits-ask"),
    path("units/<int:pk>/fits/take/", fits.fit_take, name="fit-take"),
    path("units/<int:pk>/holidays/", holidays.holidays, name="holidays"),
    path("units/<int:pk>/keyings/", keyings.keyings, name="keyings"),
    path("units/<int:pk>/keyings/add/", keyings.keying_add, name="keying-add"),
    path("units/<int:pk>/keyings/<int:keying>/remove/", keyings.keying_remove, name="keying-remove"),
    path("units/<int:pk>/by-hand/", by_hand.add, name="by-hand-add"),
    path("units/<int:pk>/by-hand/<int:index>/remove/", by_hand.remove, name="by-hand-remove"),
    path("units/<int:pk>/handover/", handover.handover, name="handover"),
    path("units/<int:pk>/remedy/", plan.remedy, name="remedy"),
    path("units/<int:pk>/undo/", plan.undo, name="undo"),
    path("units/<int:pk>/redo/", plan.redo, name="redo"),
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
    path("units/<int:pk>/plan.json", files.export, name="export"),
    path("units/<int:pk>/import/", files.import_plan, name="import"),
    path("units/<int:pk>/sheet/", sheet.sheet, name="sheet"),
    path("units/sheets/pdf/", sheet.sheets_pdf, name="sheets-pdf"),
    path("units/<int:pk>/sheet/pdf/", sheet.sheet_pdf, name="sheet-pdf"),
    path("units/keep.js", sheet.keep, name="keep"),
    path("units/<int:pk>/sheet/tick/", sheet.tick, name="tick"),
    path("units/<int:pk>/sheet/clear/", sheet.ticks_clear, name="ticks-clear"),
    path("plan-schema.json", files.schema, name="schema"),
]
