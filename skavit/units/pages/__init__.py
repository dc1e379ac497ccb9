"""The pages of a unit, a folder each: views (HTTP), forms (what is typed), page (what is shown)."""
