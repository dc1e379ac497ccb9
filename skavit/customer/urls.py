"""Addresses of what the customer is left with."""

from django.urls import path

from skavit.customer.pages.lid.views import lid
from skavit.customer.pages.link.views import share
from skavit.customer.pages.sheet import views

urlpatterns = [
    path("units/<int:pk>/customer/", views.customer, name="customer"),
    path("units/<int:pk>/customer/links/", views.link_make, name="link-make"),
    path("units/<int:pk>/customer/links/<int:record_pk>/back/", views.link_back, name="link-back"),
    path("units/<int:pk>/customer/pdf/", views.customer_pdf, name="customer-pdf"),
    path("units/<int:pk>/lid/", lid, name="lid"),
    path("c/<str:secret>/", share, name="share"),
]
