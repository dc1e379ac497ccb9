"""All addresses."""

from django.contrib.auth.views import LogoutView
from django.urls import include, path

from skavit.crews import entry
from skavit.crews import views as crews
from skavit.watching import views as watching

urlpatterns = [
    path("crew/", crews.crew_page, name="crew"),
    path("crew/people/", crews.person_add, name="person-add"),
    path("crew/people/<int:pk>/role/", crews.person_role, name="person-role"),
    path("crew/people/<int:pk>/out/", crews.person_out, name="person-out"),
    path("crew/people/<int:pk>/again/", crews.person_again, name="person-again"),
    path("crew/people/<int:pk>/name/", crews.person_rename, name="person-rename"),
    path("crew/people/<int:pk>/forget/", crews.person_forget, name="person-forget"),
    path("crew/people/<int:pk>/link/", crews.person_link, name="person-link"),
    path("crew/invite/", crews.invite, name="invite"),
    path("crew/invitations/<int:pk>/back/", crews.invitation_back, name="invitation-back"),
    path("crew/demo/remove/", crews.demo_remove, name="demo-remove"),
    path("begin/", entry.begin, name="begin"),
    path("join/<str:secret>/", entry.join, name="join"),
    path("login/", entry.Login.as_view(), name="login"),
    path("logout/", LogoutView.as_view(), name="logout"),
    path("account/", entry.account, name="account"),
    path("account/leave/", entry.leave, name="leave"),
    path("password/<uidb64>/<token>/", entry.NewPassword.as_view(), name="password-new"),
    path("password/", entry.Forgotten.as_view(), name="password-forgotten"),
    path("health/", entry.health, name="health"),
    path("ready/", watching.ready, name="ready"),
    path("metrics", watching.metrics, name="metrics"),
    path("", include("skavit.background.urls")),
    path("", include("skavit.apart.urls")),
    path("", include("skavit.round.urls")),
    path("", include("skavit.sites.urls")),
    path("", include("skavit.archive.urls")),
    path("", include("skavit.calculators.urls")),
    path("", include("skavit.kinds.urls")),
    path("", include("skavit.units.urls")),
    path("", include("skavit.switching.urls")),
    path("", include("skavit.watering.urls")),
    path("", include("skavit.heating.urls")),
    path("", include("skavit.loads.urls")),
    path("", include("skavit.codes.urls")),
    path("", include("skavit.visits.urls")),
    path("", include("skavit.due.urls")),
    path("", include("skavit.customer.urls")),
    path("", include("skavit.exchange.urls")),
    path("", include("skavit.api.urls")),
    path("", include("skavit.changes.urls")),
]

handler500 = "skavit.crews.entry.server_error"
