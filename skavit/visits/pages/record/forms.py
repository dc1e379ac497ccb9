"""The form of a note."""

from typing import Any

from django import forms
from django.core.exceptions import ValidationError

from skavit.server.bounds import MOST_NOTE_PHOTOS, PHOTO_BYTES


class _Photos(forms.ClearableFileInput):
    allow_multiple_selected = True


class PhotosField(forms.FileField):
    """Several files."""

    def clean(self, data: Any, initial: Any = None) -> list[Any]:
        """Each of them as a file that was sent."""
        files = data if isinstance(data, list) else [data] if data else []
        if len(files) > MOST_NOTE_PHOTOS:
            raise ValidationError(f"{len(files)} photos are too many. Accepted: at most {MOST_NOTE_PHOTOS} of a note.")
        return [super(PhotosField, self).clean(file, initial) for file in files]


class NoteForm(forms.Form):
    """What is written, and photos."""

    token = forms.UUIDField(widget=forms.HiddenInput)
    text = forms.CharField(max_length=2_000, required=False, label="A note", widget=forms.Textarea(attrs={"rows": 3}))
    photos = PhotosField(
        required=False,
        label="Photos",
        widget=_Photos(attrs={"accept": "image/*"}),
        help_text=f"JPEG, PNG or WebP: {MOST_NOTE_PHOTOS} at most, {PHOTO_BYTES // 1_000_000} MB together.",
    )

    def clean(self) -> dict[str, Any]:
        """Refuse an empty note."""
        found: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors and not found.get("text") and not found.get("photos"):
            raise ValidationError("Nothing was written. Accepted: words, a photo, or both.")
        return found
