"""The label for the lid of a cabinet."""

import segno
from django.http import HttpResponse
from django.shortcuts import render
from django.urls import reverse
from django.views.decorators.http import require_GET

from skavit.crews.access import members
from skavit.crews.request import CrewRequest
from skavit.units.selectors import unit_of


@members
@require_GET
def lid(request: CrewRequest, pk: int) -> HttpResponse:
    """A label for the lid of the cabinet, whose code opens the unit's page after a login."""
    unit = unit_of(request.crew, pk)
    address = request.build_absolute_uri(reverse("unit", args=[pk]))
    # Level Q: a quarter of it may be scratched away (ISO/IEC 18004).
    code = segno.make_qr(address, error="q").svg_inline(scale=6, border=4, omitsize=True)
    return render(request, "customer/lid.html", {"unit": unit, "address": address, "code": code})
