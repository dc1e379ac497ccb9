"""Pictures as SVG from core results; they know no models."""
