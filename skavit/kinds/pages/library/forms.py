"""The form of a kind from its file."""

from django import forms

from skavit.web.typed_fields import check_size


class KindFileForm(forms.Form):
    """The file of a kind."""

    file = forms.FileField(label="Kind file", help_text="A skavit-kind/1 file, at most 2 MB.", validators=[check_size])
