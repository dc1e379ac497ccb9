"""The form of a table of sites."""

from django import forms

from skavit.web.typed_fields import check_size


class SitesForm(forms.Form):
    """A table in CSV."""

    file = forms.FileField(
        label="A table in CSV", help_text="UTF-8, at most 2 MB and 2,000 lines.", validators=[check_size]
    )
