"""Coming in: beginning, logging in, joining by a link, one's own account, a new password, and what the machine answers."""

from typing import Any

from axes.helpers import get_client_ip_address
from axes.utils import reset
from django.conf import settings
from django.contrib import messages
from django.contrib.auth import login, update_session_auth_hash
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, PasswordResetConfirmView, PasswordResetView
from django.db import DatabaseError, connection
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import redirect, render
from django.template.loader import render_to_string
from django.urls import reverse_lazy
from django.utils import timezone
from django.utils.decorators import method_decorator
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from skavit.crews import services
from skavit.crews.forms import (
    BeginForm,
    ChangedPasswordForm,
    ChosenPasswordForm,
    LanguageForm,
    MailForm,
    NameForm,
    NewPersonForm,
)
from skavit.crews.leaving import take_out
from skavit.crews.models import Mails, User
from skavit.crews.password_mail import ask_mail
from skavit.crews.request import CrewRequest
from skavit.web.errors import NameTaken
from skavit.web.saving import show_error

MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"
UNPROCESSABLE, TOO_MANY, UNAVAILABLE = 422, 429, 503


def _log_in(request: HttpRequest, person: User) -> None:
    login(request, person, backend=MODEL_BACKEND)


@method_decorator(login_not_required, name="dispatch")
class Login(LoginView):
    """The login; where nobody can log in yet, the beginning. Who is in already goes on."""

    template_name = "login.html"
    redirect_authenticated_user = True

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """The form."""
        return redirect("begin") if services.nobody_yet() else super().get(request, *args, **kwargs)

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Log in, unless too many logins have failed from this address: then nothing is hashed."""
        if services.fails_too_often(get_client_ip_address(request) or "", timezone.now()):
            return locked_out(request)
        return super().post(request, *args, **kwargs)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Whether a new password can be had by mail."""
        return super().get_context_data(**kwargs, mail=services.mail_is_sent())


def locked_out(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
    """Too many logins have failed."""
    return render(request, "locked_out.html", {"name": request.POST.get("username", "")[:40]}, status=TOO_MANY)


def csrf_failure(request: HttpRequest, reason: str = "") -> HttpResponse:
    """A form from before a login, as of a login pressed twice: who is in by now goes on."""
    if request.user.is_authenticated and request.path == str(reverse_lazy("login")):
        return redirect("round")
    return render(request, "stale_form.html", status=403)


@login_not_required
@never_cache
@require_http_methods(["GET", "POST"])
def begin(request: HttpRequest) -> HttpResponse:
    """The first owner and crew, where nobody is there yet."""
    if not services.nobody_yet():
        return redirect("round" if request.user.is_authenticated else "login")
    form = BeginForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            member = services.begin(**form.cleaned_data)
        except NameTaken as error:
            show_error(form, error)
        except services.BegunAlready as error:
            messages.error(request, str(error))
            return redirect("login")
        else:
            _log_in(request, member.user)
            return redirect("round")
    return render(request, "begin.html", {"form": form}, status=UNPROCESSABLE if form.is_bound else 200)


@login_not_required
@never_cache
@require_http_methods(["GET", "POST"])
def join(request: HttpRequest, secret: str) -> HttpResponse:
    """Join a crew by an invitation."""
    try:
        invitation = services.invitation_of(secret)
        form = NewPersonForm(request.POST or None)
        if request.method == "POST" and form.is_valid():
            try:
                member = services.join(secret, **form.cleaned_data)
            except NameTaken as error:
                show_error(form, error)
            else:
                _log_in(request, member.user)
                return redirect("round")
    except services.LinkEnded as ended:
        return render(request, "link_ended.html", {"words": str(ended)}, status=410)
    context = {"form": form, "invitation": invitation}
    return render(request, "join.html", context, status=UNPROCESSABLE if form.is_bound else 200)


@require_http_methods(["GET", "POST"])
def account(request: CrewRequest) -> HttpResponse:
    """One's own password and mail, and leaving the crew."""
    about = request.POST.get("about")
    password = ChangedPasswordForm(request.user, request.POST if about == "password" else None)
    mails = request.membership.mails if request.membership else Mails.NEVER
    mail = MailForm(request.POST if about == "mail" else None, initial={"email": request.user.email, "mails": mails})
    if password.is_bound and password.is_valid():
        password.save()
        update_session_auth_hash(request, request.user)
        messages.success(request, "The password is changed. Other browsers are logged out.")
        return redirect("account")
    if mail.is_bound and mail.is_valid():
        services.set_mail(request.user, request.membership, **mail.cleaned_data)
        messages.success(request, "Saved.")
        return redirect("account")
    language = LanguageForm(
        request.POST if about == "language" else None,
        initial={"language": request.user.language or settings.LANGUAGE_CODE},
    )
    if language.is_bound and language.is_valid():
        services.set_language(request.user, language.cleaned_data["language"])
        return redirect("account")
    name = NameForm.of(request.user, request.POST if about == "name" else None)
    if name.is_bound and name.is_valid() and request.membership:
        try:
            services.rename(request.membership, request.membership, name.cleaned_data["username"])
        except NameTaken as error:
            show_error(name, error)
        else:
            messages.success(request, f"You log in as {name.cleaned_data['username']} from now on.")
            return redirect("account")
    refused = password.is_bound or mail.is_bound or name.is_bound or language.is_bound
    forms = {"password": password, "mail": mail, "name": name, "language": language}
    context = {**forms, "sends": services.mail_is_sent()}
    return render(request, "account.html", context, status=UNPROCESSABLE if refused else 200)


@require_POST
def leave(request: CrewRequest) -> HttpResponse:
    """Take oneself out of the crew."""
    if request.membership is None:
        raise Http404
    try:
        take_out(request.membership, request.membership)
    except services.LastOwner as error:
        messages.error(request, str(error))
        return redirect("account")
    return redirect("login")


@method_decorator(login_not_required, name="dispatch")
class NewPassword(PasswordResetConfirmView):
    """A new password by a link that an owner, the command line or a mail gave."""

    template_name = "password_new.html"
    form_class = ChosenPasswordForm
    success_url = reverse_lazy("login")

    def form_valid(self, form: Any) -> HttpResponse:
        """Say what to do next; who was locked out for the old password may log in with the new one at once."""
        reset(username=form.user.get_username())
        messages.success(self.request, "The new password is saved. Log in with it.")
        return super().form_valid(form)


@method_decorator(login_not_required, name="dispatch")
class Forgotten(PasswordResetView):
    """A mail with a link, where this server sends mail; it says the same whether there is such a person or not."""

    template_name = "password_forgotten.html"

    def dispatch(self, *args: Any, **kwargs: Any) -> HttpResponseBase:
        """Not where no mail is sent."""
        if not services.mail_is_sent():
            raise Http404
        return super().dispatch(*args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        """Ask for the mail, and say what to do next."""
        ask_mail(
            form.cleaned_data["email"],
            sender=get_client_ip_address(self.request) or "",
            address=settings.ADDRESS or self.request.build_absolute_uri("/"),
        )
        messages.success(self.request, "If that mail is known here, a link is on its way.")
        return redirect("login")


@login_not_required
@require_GET
def health(request: HttpRequest) -> HttpResponse:
    """Whether the server and its database answer: ok, or 503."""
    if _database_answers():
        return HttpResponse("ok", content_type="text/plain")
    return HttpResponse("the database does not answer", status=UNAVAILABLE, content_type="text/plain")


def _database_answers() -> bool:
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except DatabaseError:
        connection.close()
        return False
    return True


def server_error(request: HttpRequest) -> HttpResponse:
    """A fault of the server; where it is the database that is away, it will be back: then say so, and not that it broke."""
    if _database_answers():
        return HttpResponse(render_to_string("500.html"), status=500)
    return HttpResponse(render_to_string("unavailable.html"), status=UNAVAILABLE, headers={"Retry-After": "5"})
