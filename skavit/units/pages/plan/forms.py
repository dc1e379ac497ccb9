"""The small forms of the unit's page: a channel's name, a plan file to take."""

from django import forms

from skavit.typed_fields import check_size


class ChannelForm(forms.Form):
    """A channel's name."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="Channel")


class ImportForm(forms.Form):
    """A plan file."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    file = forms.FileField(label="Plan file", help_text="A skavit-plan/1 file, at most 2 MB.", validators=[check_size])
