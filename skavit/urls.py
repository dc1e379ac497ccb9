"""All addresses."""

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView
from django.urls import include, path

from skavit.crews import views as crews

urlpatterns = [
    path("crew/", crews.crew_page, name="crew"),
    path("crew/people/", crews.person_add, name="person-add"),
    path("crew/people/<int:pk>/role/", crews.person_role, name="person-role"),
    path("login/", login_not_required(LoginView.as_view(template_name="login.html")), name="login"),
    path("logout/", LogoutView.as_view(), name="logout"),
    path("health/", crews.health, name="health"),
    path("", include("skavit.round.urls")),
    path("", include("skavit.sites.urls")),
    path("", include("skavit.calculators.urls")),
    path("", include("skavit.kinds.urls")),
    path("", include("skavit.units.urls")),
]
