"""What was archived or removed; archiving, removing and bringing back."""

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from skavit.archive.rows import SORTS, rows_of
from skavit.crews import soft_delete
from skavit.crews.access import editors, members
from skavit.crews.request import CrewRequest


@members
@require_GET
def archive_page(request: CrewRequest) -> HttpResponse:
    """All that is archived or removed."""
    return render(request, "archive/archive.html", {"sorts": rows_of(request.crew)})


@editors
@require_POST
def act(request: CrewRequest, what: str, pk: int, act: str) -> HttpResponse:
    """Archive a row, remove it, bring it back, or remove it for good."""
    sort = SORTS.get(what)
    if sort is None:
        raise Http404
    row = get_object_or_404(sort.all(request.crew), pk=pk)
    member, name = request.membership, str(row)
    try:
        match act:
            case "archive":
                soft_delete.archive(member, row, request.instant)
                messages.success(request, f"{name} is archived. It is off the lists and stays as it is.")
            case "remove":
                sort.remove(member, row, request.instant)
                messages.success(request, f"{name} is removed. Bring it back from the archive within 30 days.")
            case "back":
                soft_delete.bring_back(member, row)
                messages.success(request, f"{row} is back.")
                return redirect(sort.at(row))
            case "for-good":
                soft_delete.remove_for_good(member, row)
                messages.success(request, f"{name} is gone for good.")
                return redirect("archive")
            case _:
                raise Http404
    except soft_delete.InUse as refused:
        messages.error(request, str(refused))
        return redirect(sort.at(row) if row.removed is None else "archive")
    return redirect(sort.after(row))
