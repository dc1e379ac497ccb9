"""The plan file as frozen dataclasses that read themselves strictly and write themselves back."""
