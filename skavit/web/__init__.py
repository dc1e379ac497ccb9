"""What pages have in common: their requests, forms, errors and secret links."""
