"""Codes of units: installer PINs, key safes. Sealed in the database, shown on request alone, and every look is written down."""
