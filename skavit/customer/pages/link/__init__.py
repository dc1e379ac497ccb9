"""The page behind a link."""
