"""Words for the templates."""
