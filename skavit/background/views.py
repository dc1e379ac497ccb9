"""A piece of work: how far it is, cancelling it, and what came of it."""

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST
from django_htmx.http import HttpResponseClientRedirect

from skavit.background import services
from skavit.background.models import Job, State
from skavit.crews.access import members
from skavit.crews.request import CrewRequest


def _job(request: CrewRequest, pk: int) -> Job:
    found = get_object_or_404(Job.objects.defer("upload", "answer").select_related("by"), crew=request.crew, pk=pk)
    if not services.may_see(request.membership, found):
        raise Http404
    return found


@members
@require_GET
def job(request: CrewRequest, pk: int) -> HttpResponse:
    """How far it is; once it is done, whoever asked goes on to what came of it."""
    services.give_up_lost()
    found = _job(request, pk)
    may_have = services.may_have(request.membership, found)
    if may_have and found.state == State.DONE and found.then:
        for line in found.told.splitlines():
            messages.info(request, line)
        return HttpResponseClientRedirect(found.then) if request.htmx else redirect(found.then)
    context = {
        "job": found,
        "may_have": may_have,
        "idle": services.nobody_works(found),
        "may_cancel": found.is_open,
    }
    return render(request, "background/_job.html" if request.htmx else "background/job.html", context)


@members
@require_POST
def job_cancel(request: CrewRequest, pk: int) -> HttpResponse:
    """End it, and go back to where it was asked for."""
    found = _job(request, pk)
    services.cancel(request.membership, found)
    return redirect("job", pk=pk)


@members
@require_GET
def job_answer(request: CrewRequest, pk: int) -> HttpResponse:
    """The file that came of it."""
    found = get_object_or_404(Job, crew=request.crew, pk=pk, state=State.DONE)
    if found.answer is None or not found.answer_name or not services.may_have(request.membership, found):
        raise Http404
    response = HttpResponse(bytes(found.answer), content_type=found.answer_type)
    response["Content-Disposition"] = f'attachment; filename="{found.answer_name}"'
    return response
