"""The small form of a channel."""

from django import forms


class ChannelForm(forms.Form):
    """A channel's name."""

    revision = forms.IntegerField(widget=forms.HiddenInput)
    name = forms.CharField(max_length=80, label="Channel")
