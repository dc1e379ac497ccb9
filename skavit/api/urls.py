"""Addresses of what other programs read: the questions under ``api/``, and the page about them."""

from django.contrib.auth.decorators import login_not_required
from django.urls import include, path
from django.views.decorators.cache import never_cache

from skavit.api import views
from skavit.api.service import api

questions, application, namespace = api.urls
for question in questions:
    if question.callback is not None:
        # A key replaces a login; and no proxy keeps what it reads.
        question.callback = login_not_required(never_cache(question.callback))

urlpatterns = [
    path("api/", views.page, name="api-page"),
    path("api/openapi.json", views.described, name="api-described"),
    path("api/keys/", views.key_make, name="api-key-make"),
    path("api/keys/<int:pk>/back/", views.key_back, name="api-key-back"),
    path("api/", include((questions, application), namespace)),
]
