"""Codes of units, such as installer PINs: encrypted, shown on request, each look logged."""
